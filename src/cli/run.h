#pragma once

#include <cstdio>
#include <string>
#include <vector>

namespace noctis {

/// The whole command line: results go to out, errors and progress to err.
/// Returns the exit status: 0 done, 2 bad usage, 3 input that can't be used, 4 a file could not be
/// read or written, 5 stopped.
int runCli(const std::vector<std::string>& arguments, std::FILE* out, std::FILE* err);

}  // namespace noctis
