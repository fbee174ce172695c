# What keeps builds short. CMAKE_UNITY_BUILD joins sources where a preset says so; here are the headers that are
# compiled once, and the compiler's cache where it is installed.
find_program(GRAY_RELIC_CCACHE ccache)
if(GRAY_RELIC_CCACHE AND NOT CMAKE_CXX_COMPILER_LAUNCHER)
    # Headers compiled once can be cached only when the time stamps inside them are not looked at. Paths below the
    # source tree count from it, so that another clone of it, as CI's, finds what this one has compiled.
    set(CMAKE_CXX_COMPILER_LAUNCHER ${CMAKE_COMMAND} -E env CCACHE_BASEDIR=${PROJECT_SOURCE_DIR} CCACHE_NOHASHDIR=true
        CCACHE_SLOPPINESS=pch_defines,time_macros,include_file_mtime,include_file_ctime ${GRAY_RELIC_CCACHE})
    if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
        add_compile_options(-fpch-preprocess)
    endif()
endif()

# gray_relic_headers(TARGET [REUSE OTHER | HEADERS...]): headers compiled once for a target, or once for several of
# the same options. GRAY_RELIC_PCH=OFF leaves them out, for clang-tidy and the check that each file compiles alone.
option(GRAY_RELIC_PCH "Compile common headers once" ON)
function(gray_relic_headers target)
    if(NOT GRAY_RELIC_PCH)
        return()
    endif()
    if(ARGV1 STREQUAL "REUSE")
        target_precompile_headers(${target} REUSE_FROM ${ARGV2})
    else()
        target_precompile_headers(${target} PRIVATE ${ARGN})
    endif()
endfunction()

# gray_relic_warm(TARGET...): what a person waits for but does not loop over is not worth -O3, which takes a sixth more to
# compile than -O2. gray_relic_cold(TARGET...): what runs once or waits for a disk gets -O1, which takes half of -O3's time.
function(gray_relic_warm)
    foreach(target IN LISTS ARGN)
        target_compile_options(${target} PRIVATE $<$<CONFIG:Release>:-O2>)
    endforeach()
endfunction()
function(gray_relic_cold)
    foreach(target IN LISTS ARGN)
        target_compile_options(${target} PRIVATE $<$<CONFIG:Release>:-O1>)
    endforeach()
endfunction()
