#pragma once

#include "core/recipe/frame_context.h"

#include <memory>

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

    [[nodiscard]] Result result() const;

private:
    const FrameContext* m_context;
    Image m_picture;
    std::map<std::string, Image> m_written;
    /// Derived from what was written; shared by copies that wrote the same.
    std::shared_ptr<std::map<std::string, Image>> m_derived =
        std::make_shared<std::map<std::string, Image>>();
};

}  // namespace noctis
