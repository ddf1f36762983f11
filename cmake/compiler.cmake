# Flags sit on one interface target, so that they reach our own code only.
add_library(noctis_warnings INTERFACE)
# -Wrestrict warns of plain string concatenation in GCC 12 (its bug 105329).
target_compile_options(noctis_warnings INTERFACE -Wall -Wextra -Wpedantic -Wconversion -Wshadow
                       -Wno-restrict
                       $<$<BOOL:${NOCTIS_WARNINGS_ARE_ERRORS}>:-Werror>)
target_include_directories(noctis_warnings INTERFACE ${PROJECT_SOURCE_DIR}/src)

if(NOCTIS_SANITIZE)
    add_compile_options(-fsanitize=${NOCTIS_SANITIZE} -fno-omit-frame-pointer)
    add_link_options(-fsanitize=${NOCTIS_SANITIZE})
endif()

# Faster rebuilds where the machine has the tools; the result is the same without them.
find_program(CCACHE ccache)
if(CCACHE)
    # A precompiled header records the text of what it includes, comments too, and GCC includes a header again
    # whose text differs. Results are therefore found by the text of all headers (depend mode), never by
    # preprocessed output, which has no comments. The namespace keeps out results found the other way.
    set(CMAKE_CXX_COMPILER_LAUNCHER ${CMAKE_COMMAND} -E env CCACHE_DEPEND=1 CCACHE_NAMESPACE=noctis-depend
        CCACHE_SLOPPINESS=pch_defines,time_macros,include_file_mtime,include_file_ctime ${CCACHE})
endif()
find_program(MOLD mold)
if(MOLD)
    add_link_options(-fuse-ld=mold)
endif()
