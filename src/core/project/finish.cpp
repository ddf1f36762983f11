#include "core/project/finish.h"

#include "core/image/error.h"
#include "core/image/safe_write.h"

#include <fmt/format.h>

namespace noctis {

void exportPicture(const std::filesystem::path& path, const Image& picture, const Project& project,
                   int bits) {
    requireNoInput(path, inputsOf(project));
    const std::string ending = path.extension().string();
    const bool isExr = ending == ".exr" || ending == ".EXR";
    const bool isPng = ending == ".png" || ending == ".PNG";
    if ((isExr && bits == 8) || (isPng && bits == 32))
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{}: a {} file can't hold {} bits", path.string(), ending, bits));
    FilePart part;
    part.name = "beauty";
    part.image = picture;
    part.attributes = {{"software", std::string("Noctis")}};
    if (isExr) {
        part.type = bits == 32 ? SampleType::Float : SampleType::Half;
    } else if (bits == 32) {
        part.type = SampleType::Float;
    } else {
        part.type = bits == 8 ? SampleType::Byte : SampleType::Short;
        part.image = viewed(picture, project.viewTransform, project.exposure);
    }
    writeImageFile(path, {part});
}

}  // namespace noctis
