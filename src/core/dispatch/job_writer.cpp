#include "core/dispatch/job_writer.h"

#include "core/image/error.h"
#include "core/image/resample.h"

#include <algorithm>

namespace noctis {

namespace {

constexpr int kPictureWidth = 160;   // px
constexpr int kPictureHeight = 100;  // px

}  // namespace

std::unique_ptr<JobWriter> jobWriter(const JobContext& context) {
    switch (context.job.kind) {
    case JobKind::Passes:
        return passesWriter(context);
    case JobKind::Finished:
        return finishedWriter(context);
    case JobKind::Sheet:
        return sheetWriter(context);
    case JobKind::Relief:
        return reliefWriter(context);
    }
    return nullptr;
}

void writing(const std::function<void()>& write) {
    try {
        write();
    } catch (const Error& error) {
        if (error.code() == ErrorCode::FileAccess)
            throw JobHalt{error.what()};
        throw;
    }
}

Image jobPicture(const Image& encoded) {
    const float scale = std::min({1.0F, kPictureWidth / static_cast<float>(encoded.width()),
                                  kPictureHeight / static_cast<float>(encoded.height())});
    const auto side = [&](int full) {
        return std::max(1, static_cast<int>(static_cast<float>(full) * scale));
    };
    return resized(encoded, side(encoded.width()), side(encoded.height()), Resampling::Area);
}

}  // namespace noctis
