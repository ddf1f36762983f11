# Flags sit on one interface target, so that they reach our own code only.
add_library(noctis_warnings INTERFACE)
# -Wrestrict warns of plain string concatenation in GCC 12 (its bug 105329).
target_compile_options(noctis_warnings INTERFACE -Wall -Wextra -Wpedantic -Wconversion -Wshadow
                       -Wno-restrict
                       $<$<BOOL:${NOCTIS_WARNINGS_ARE_ERRORS}>:-Werror>)

# Gives a target, and those that use it, the headers of a folder of src as "folder/header.h".
function(noctis_include_folder target folder)
    string(REPLACE / _ own ${folder})
    set(root ${PROJECT_BINARY_DIR}/include/${own})
    cmake_path(GET folder PARENT_PATH above)
    file(MAKE_DIRECTORY ${root}/${above})
    file(CREATE_LINK ${PROJECT_SOURCE_DIR}/src/${folder} ${root}/${folder} SYMBOLIC)
    target_include_directories(${target} PUBLIC ${root})
endfunction()

# In a unity build, compiles the files of each folder of a target together, eight at a time, except those that are
# named: a name of one's own in a file must be its folder's only one of that name.
function(noctis_unity target)
    if(NOT NOCTIS_UNITY)
        return()
    endif()
    get_target_property(sources ${target} SOURCES)
    list(FILTER sources INCLUDE REGEX "\\.cpp$")
    list(REMOVE_ITEM sources ${ARGN})
    set(last "")
    set(count 0)
    foreach(source IN LISTS sources)
        get_filename_component(folder ${source} DIRECTORY)
        if(NOT folder STREQUAL last)
            set(last ${folder})
            set(count 0)
        endif()
        math(EXPR group "${count} / 8")
        math(EXPR count "${count} + 1")
        set_source_files_properties(${source} PROPERTIES UNITY_GROUP "${folder}_${group}")
    endforeach()
    set_source_files_properties(${ARGN} PROPERTIES SKIP_UNITY_BUILD_INCLUSION ON)
    set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_MODE GROUP)
endfunction()

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
