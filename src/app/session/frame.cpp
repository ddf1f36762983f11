#include "app/session/frame.h"

#include "core/image/safe_write.h"
#include "core/passes/frame_name.h"
#include "core/tracer/pass_state.h"

#include <algorithm>

#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

/// Except for its progress.
bool sameSettings(const Pass& a, const Pass& b) {
    auto of = a.settings;
    auto other = b.settings;
    of.erase(kTracedSetting);
    other.erase(kTracedSetting);
    return of == other;
}

/// Another picture's pixels within a rectangle, and the picture's own around it.
Image pasted(Image onto, const Image& from, const Tile& part) {
    for (int c = 0; c < onto.channels(); ++c) {
        float* to = onto.editPlane(c);
        for (int y = part.y0; y < part.y1; ++y)
            std::copy(from.row(c, y) + part.x0, from.row(c, y) + part.x1,
                      to + onto.rowStride() * y + part.x0);
    }
    return onto;
}

}  // namespace

bool Frame::isOf(const View& view) const {
    return passes.view == view.name || (passes.camera && sameCamera(*passes.camera, view.camera));
}

void addRendered(Frame& frame, const PassSet& rendered, const std::optional<Tile>& crop) {
    if (frame.passes.width != rendered.width || frame.passes.height != rendered.height ||
        frame.passes.view != rendered.view || !frame.passes.camera || !rendered.camera ||
        !sameCamera(*frame.passes.camera, *rendered.camera)) {
        frame.passes = rendered;
        if (crop)
            for (Pass& pass : frame.passes.passes)
                pass.settings[kCropSetting] = textOfCrop(*crop);
    } else {
        frame.passes.cameraBefore = rendered.cameraBefore;
        frame.passes.cameraAfter = rendered.cameraAfter;
        for (Pass pass : rendered.passes) {
            const Pass* old = frame.passes.find(std::string_view(pass.name));
            const bool joins =
                crop && old != nullptr && old->image.channels() == pass.image.channels();
            const bool whole = !crop || (joins && sameSettings(*old, pass));
            if (joins)
                pass.image = pasted(old->image, pass.image, *crop);
            if (!whole)
                pass.settings[kCropSetting] = textOfCrop(*crop);
            const std::string noisy = noisyName(pass.name);
            if (rendered.find(std::string_view(noisy)) == nullptr)
                std::erase_if(frame.passes.passes, [&](const Pass& p) { return p.name == noisy; });
            frame.passes.put(std::move(pass));
        }
    }
    frame.unsaved = true;
    frame.files.clear();
}

void saveFrame(Frame& frame, const fs::path& project) {
    const std::string& view = frame.passes.view;
    fs::path file = project;
    file.replace_extension(
        fmt::format("{}{}.passes.exr", view.empty() ? "" : ".", fileNameOf(view)));
    const bool kept =
        !frame.files.empty() && (frame.inFilesOnly || fs::exists(frame.files.front()));
    if (kept)
        writeThenRename(file, copyWriter(std::make_shared<const InputFile>(frame.files.front())));
    else
        writePasses(file, frame.passes);
    frame.files = {file};
    frame.unsaved = false;
}

}  // namespace noctis
