#pragma once

class QFrame;

namespace noctis {

/// A line of one pixel between two parts of the window.
QFrame* hairline(bool vertical);

}  // namespace noctis
