# gray_relic_target(NAME): the warnings, sanitizers and include root that every target of ours shares.
function(gray_relic_target name)
    target_include_directories(${name} PUBLIC ${PROJECT_SOURCE_DIR}/src)
    # -Wno-restrict, -Wno-stringop-overflow, -Wno-array-bounds: g++ 12 warns falsely about std::string at -O2 (see the compiler's own bug list).
    target_compile_options(${name} PRIVATE -Wall -Wextra -Wpedantic -Wconversion -Wno-sign-conversion
                           -Wnon-virtual-dtor -Werror
                           $<$<CXX_COMPILER_ID:GNU>:-Wno-restrict -Wno-stringop-overflow -Wno-array-bounds>)
    # Of joined sources one may have what another's local name shadows; with sources apart, none may.
    if(CMAKE_UNITY_BUILD)
        target_compile_options(${name} PRIVATE $<$<CXX_COMPILER_ID:GNU>:-Wshadow=local>)
    else()
        target_compile_options(${name} PRIVATE -Wshadow)
    endif()
    if(GRAY_RELIC_FUZZ)
        # The counts of functions are what tests/fuzz/reach reads.
        target_compile_options(${name} PUBLIC -fsanitize=fuzzer-no-link -fprofile-instr-generate -fcoverage-mapping)
        target_link_options(${name} PUBLIC -fsanitize=fuzzer-no-link -fprofile-instr-generate)
    endif()
    if(GRAY_RELIC_SANITIZE)
        # A null pointer that is followed ends the program under the address sanitizer anyhow; its checks at every member, and
        # those of alignment and object size, make up a quarter of the build.
        target_compile_options(${name} PUBLIC -fsanitize=address,undefined -fno-sanitize=null,alignment,object-size,vptr
                               -fno-sanitize-recover=all -fno-omit-frame-pointer)
        target_link_options(${name} PUBLIC -fsanitize=address,undefined)
        # Eigen has another way of freeing memory where it is compiled for the address sanitizer: the test programs, which are
        # not, must agree with all that they link.
        target_compile_definitions(${name} PRIVATE EIGEN_MALLOC_ALREADY_ALIGNED=1)
    endif()
endfunction()
