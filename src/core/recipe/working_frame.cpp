#include "core/recipe/working_frame.h"

namespace noctis {

namespace {

constexpr char kMovesMark = '@';      ///< no pass's name has it
constexpr const char* kPicture = "";  ///< its name in a result; passes have longer ones

bool followsDepth(PassKind kind) {
    return kind == PassKind::Distance || kind == PassKind::Position || kind == PassKind::Mist;
}

}  // namespace

WorkingFrame::WorkingFrame(const FrameContext& context, const Result& result)
    : m_context(&context), m_picture(result.at(kPicture)), m_written(result) {
    m_written.erase(kPicture);
    // A pass that was written after moves says how many, behind its name.
    for (auto it = m_written.begin(); it != m_written.end();) {
        const std::size_t mark = it->first.find(kMovesMark);
        if (mark == std::string::npos) {
            ++it;
            continue;
        }
        auto node = m_written.extract(it++);
        const std::string name = node.key().substr(0, mark);
        m_movedWhenWritten[name] = std::stoul(node.key().substr(mark + 1));
        node.key() = name;
        m_written.insert(std::move(node));
    }
}

Image WorkingFrame::pass(const PassName& name) const {
    const std::string text = nameOf(name);
    const auto written = m_movedWhenWritten.find(text);
    std::size_t next = written == m_movedWhenWritten.end() ? 0 : written->second;
    if (next >= m_moves.size())
        return stillPass(name);
    if (const auto found = m_moved->find(text); found != m_moved->end())
        return found->second;
    Image image = stillPass(name);
    for (; next < m_moves.size(); ++next)
        image = m_moves[next](image);
    return (*m_moved)[text] = image;
}

Image WorkingFrame::stillPass(const PassName& name) const {
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
    if (m_moves.empty())
        return;
    m_movedWhenWritten[nameOf(name)] = m_moves.size();
    m_moved = std::make_shared<std::map<std::string, Image>>();
}

void WorkingFrame::addMove(std::function<Image(const Image&)> move) {
    m_moves.push_back(std::move(move));
    m_moved = std::make_shared<std::map<std::string, Image>>();
}

WorkingFrame WorkingFrame::still() const {
    if (m_moves.empty())
        return *this;
    WorkingFrame out(*m_context, m_picture);
    for (const auto& [name, image] : m_written)
        if (!m_movedWhenWritten.contains(name))
            out.m_written[name] = image;
    return out;
}

Result WorkingFrame::result() const {
    Result result;
    for (const auto& [name, image] : m_written) {
        const auto moved = m_movedWhenWritten.find(name);
        result[moved == m_movedWhenWritten.end()
                   ? name
                   : name + kMovesMark + std::to_string(moved->second)] = image;
    }
    result[kPicture] = m_picture;
    return result;
}

}  // namespace noctis
