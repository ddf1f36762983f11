#pragma once

#include <stdexcept>
#include <string>

namespace noctis {

/// What went wrong, as a stable name. docs/errors.md lists them.
enum class ErrorCode {
    ShapeMismatch,  ///< images of different sizes or channel counts were combined
    BadSetting,     ///< a setting is out of range or not understood
    BadFile,        ///< a file's content can't be used
    FileAccess,     ///< a file could not be opened, read or written
    BadScene,       ///< a scene holds nothing that can be rendered
    UnknownName,    ///< no pass, step, view or format of that name
    MissingPass,    ///< a pass that is needed is missing
    NewerVersion,   ///< a project or recipe of a newer version
    TooLarge,       ///< a size beyond the limits
};

/// The one exception that the core throws on purpose: a code and one sentence that says what is wrong and, if
/// possible, what to do.
class Error : public std::runtime_error {
public:
    Error(ErrorCode code, const std::string& sentence)
        : std::runtime_error(sentence), m_code(code) {}

    [[nodiscard]] ErrorCode code() const noexcept { return m_code; }

private:
    ErrorCode m_code;
};

}  // namespace noctis
