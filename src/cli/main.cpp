#include "cli/run.h"

#include <cstdio>

int main(int argc, char** argv) { return noctis::runCli({argv, argv + argc}, stdout, stderr); }
