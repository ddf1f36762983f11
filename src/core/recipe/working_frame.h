#pragma once

#include "core/recipe/frame_context.h"

#include <functional>
#include <map>
#include <memory>
#include <vector>

namespace noctis {

/// The data that flows from step to step: the picture, and the passes as earlier steps left them. A value:
/// copies share all pixels until they are written.
/// Threads  as FrameContext.
class WorkingFrame {
public:
    WorkingFrame(const FrameContext& context, Image picture)
        : m_context(&context), m_picture(std::move(picture)) {}
    /// As result() gave it.
    WorkingFrame(const FrameContext& context, const Result& result);

    /// R G B and, where the picture is not opaque, A; colour is associated.
    [[nodiscard]] const Image& picture() const noexcept { return m_picture; }
    [[nodiscard]] bool hasAlpha() const noexcept { return m_picture.channels() > 3; }
    void setPicture(Image picture) { m_picture = std::move(picture); }
    [[nodiscard]] int width() const noexcept { return m_picture.width(); }
    [[nodiscard]] int height() const noexcept { return m_picture.height(); }
    [[nodiscard]] const FrameContext& context() const noexcept { return *m_context; }

    /// A pass in its current state. Passes derived from a depth that a step wrote are derived again.
    /// Errors   Error(MissingPass).
    [[nodiscard]] Image pass(const PassName& name) const;
    [[nodiscard]] Image pass(PassKind kind) const { return pass(PassName{kind, {}}); }
    /// Empty where there is none.
    [[nodiscard]] Image passIfThere(const PassName& name) const;
    [[nodiscard]] bool has(const PassName& name) const;
    /// Replaces a pass for the steps after this one.
    void write(const PassName& name, Image image);
    [[nodiscard]] bool wroteAny() const noexcept { return !m_written.empty(); }

    /// After this, the picture's places are others: where a pass is then. What was written before moves, too.
    void addMove(std::function<Image(const Image&)> move);
    /// The same picture with the passes as they stood before the first move.
    [[nodiscard]] WorkingFrame still() const;

    [[nodiscard]] Result result() const;

private:
    [[nodiscard]] Image stillPass(const PassName& name) const;

    const FrameContext* m_context;
    Image m_picture;
    std::map<std::string, Image> m_written;
    std::vector<std::function<Image(const Image&)>> m_moves;
    /// How many moves there were when a pass was written: it is there already.
    std::map<std::string, std::size_t> m_movedWhenWritten;
    /// Moved ones; shared by copies with the same moves.
    std::shared_ptr<std::map<std::string, Image>> m_moved =
        std::make_shared<std::map<std::string, Image>>();
    /// Derived from what was written; shared by copies that wrote the same.
    std::shared_ptr<std::map<std::string, Image>> m_derived =
        std::make_shared<std::map<std::string, Image>>();
};

}  // namespace noctis
