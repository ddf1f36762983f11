#pragma once

#include "cli/run.h"

#include <cstdio>
#include <string>
#include <vector>

#include <nlohmann/json.hpp>

namespace noctis::test {

/// What a run of the command line gave.
struct Outcome {
    int status = 0;
    std::string out;
    std::string err;

    [[nodiscard]] nlohmann::json json() const { return nlohmann::json::parse(out); }
};

inline std::string contentOf(std::FILE* file) {
    std::rewind(file);
    std::string text;
    char block[4096];
    for (std::size_t n = 0; (n = std::fread(block, 1, sizeof block, file)) > 0;)
        text.append(block, n);
    std::fclose(file);
    return text;
}

inline Outcome run(std::vector<std::string> arguments) {
    arguments.insert(arguments.begin(), "noctis-cli");
    std::FILE* out = std::tmpfile();
    std::FILE* err = std::tmpfile();
    Outcome outcome;
    outcome.status = runCli(arguments, out, err);
    outcome.out = contentOf(out);
    outcome.err = contentOf(err);
    return outcome;
}

}  // namespace noctis::test
