#pragma once

#include <QString>

namespace noctis {

/// A message as people see it: beginning with a capital. The core's messages follow a program's name or a file's on
/// the command line, so they begin as they would within a sentence. A file's name at the beginning stays as it is.
QString sentence(QString message);

}  // namespace noctis
