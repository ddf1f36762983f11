#include "core/recipe/working_frame.h"

namespace noctis {

namespace {

constexpr const char* kPicture = "";  ///< its name in a result; passes have longer ones

bool followsDepth(PassKind kind) {
    return kind == PassKind::Distance || kind == PassKind::Position || kind == PassKind::Mist;
}

}  // namespace

WorkingFrame::WorkingFrame(const FrameContext& context, const Result& result)
    : m_context(&context), m_picture(result.at(kPicture)), m_written(result) {
    m_written.erase(kPicture);
}

Image WorkingFrame::pass(const PassName& name) const {
    const std::string text = nameOf(name);
    if (const auto found = m_written.find(text); found != m_written.end())
        return found->second;
    const auto depth = m_written.find(nameOf({PassKind::Depth, {}}));
    if (!followsDepth(name.kind) || depth == m_written.end())
        return m_context->pass(name);
    if (const auto found = m_derived->find(text); found != m_derived->end())
        return found->second;
    PassSet set = m_context->geometry();
    std::erase_if(set.passes, [](const Pass& pass) {
        return followsDepth(pass.kind) || pass.kind == PassKind::Depth;
    });
    Pass written;
    written.name = passKindInfo(PassKind::Depth).id;
    written.kind = PassKind::Depth;
    written.image = depth->second;
    set.passes.push_back(std::move(written));
    return (*m_derived)[text] = resolvePass(set, name.kind).image;
}

bool WorkingFrame::has(const PassName& name) const {
    return m_written.contains(nameOf(name)) || m_context->has(name) ||
           (followsDepth(name.kind) && m_written.contains(nameOf({PassKind::Depth, {}})));
}

Image WorkingFrame::passIfThere(const PassName& name) const {
    return has(name) ? pass(name) : Image();
}

void WorkingFrame::write(const PassName& name, Image image) {
    m_written[nameOf(name)] = std::move(image);
    m_derived = std::make_shared<std::map<std::string, Image>>();
}

Result WorkingFrame::result() const {
    Result result = m_written;
    result[kPicture] = m_picture;
    return result;
}

}  // namespace noctis
