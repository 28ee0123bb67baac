# How our own code is compiled: warnings, sanitizers, compiler cache, linker, and what a room is.

find_program(CCACHE ccache)
if(CCACHE)
    # A precompiled header carries time stamps that do not matter; without this the cache would refuse every file.
    set(CMAKE_CXX_COMPILER_LAUNCHER ${CMAKE_COMMAND} -E env
        CCACHE_SLOPPINESS=pch_defines,time_macros,include_file_mtime,include_file_ctime ${CCACHE})
endif()
find_program(MOLD mold)
if(MOLD)
    add_link_options(-fuse-ld=mold)
endif()

add_library(ferro_options INTERFACE)
target_compile_options(ferro_options INTERFACE -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Wno-sign-conversion
    -Wnon-virtual-dtor -Woverloaded-virtual -Werror
    # The same bytes on every machine: no fused multiply-add where the compiler sees a chance.
    -ffp-contract=off)
if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
    target_compile_options(ferro_options INTERFACE -fpch-preprocess
        # GCC 12 warns about its own standard library once it has inlined enough of it.
        -Wno-restrict -Wno-stringop-overflow -Wno-stringop-overread -Wno-array-bounds -Wno-maybe-uninitialized -Wno-dangling-pointer)
else()
    target_compile_options(ferro_options INTERFACE -Wno-missing-field-initializers -Wno-missing-braces)
endif()
if(FERRO_SANITIZE)
    # Null, alignment and the dynamic type are left to the address sanitizer and the processor: their checks double the
    # time to compile and have found nothing.
    add_compile_options(-fsanitize=address,undefined -fno-sanitize-recover=undefined -fno-omit-frame-pointer
        -fno-sanitize=null,alignment,vptr,object-size,nonnull-attribute,returns-nonnull-attribute)
    add_link_options(-fsanitize=address,undefined)
elseif(FERRO_THREADS)
    add_compile_options(-fsanitize=thread -fno-omit-frame-pointer)
    add_link_options(-fsanitize=thread)
elseif(FERRO_FUZZ)
    add_compile_options(-fsanitize=fuzzer-no-link,address,undefined -fno-omit-frame-pointer)
    add_link_options(-fsanitize=address,undefined)
endif()

# One precompiled header for the whole core. A target of its own, so that no room's definitions leak into it.
file(WRITE ${CMAKE_BINARY_DIR}/pch.cpp "")
add_library(ferro_pch STATIC ${CMAKE_BINARY_DIR}/pch.cpp)
find_package(fmt REQUIRED)
target_link_libraries(ferro_pch PRIVATE ferro_options fmt::fmt)
set(FERRO_PCH <algorithm> <cmath> <functional> <memory> <optional> <span> <string> <string_view> <utility> <variant>
    <vector> <map> <numeric> <fmt/format.h> <tl/expected.hpp>)
target_precompile_headers(ferro_pch PRIVATE ${FERRO_PCH})

# What only drives the code that is looked at, tests above all, is compiled as quickly as can be.
function(ferro_quickly_compiled target)
    target_compile_options(${target} PRIVATE -O0 $<$<BOOL:${FERRO_SANITIZE}>:-fno-sanitize=all>)
endfunction()

# Units of one target are compiled several at a time: what their headers instantiate is made once for all of them, which
# halves the time to compile. Files whose file-local names other files of the target have too are named as APART.
function(ferro_together target)
    if(FERRO_APART)
        return()
    endif()
    set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE 6)
    foreach(source ${ARGN})
        set_source_files_properties(${source} PROPERTIES SKIP_UNITY_BUILD_INCLUSION ON)
    endforeach()
endfunction()

# ferro_room(NAME [USES room...] [LINKS target...] [APART file...]) declares src/NAME as a room of the core.
# Its headers are reached as "NAME/file.h" only by targets that use it, directly or through another room: a forbidden
# include does not compile. The link folder is what makes that so; src/ itself is on nobody's include path.
function(ferro_room name)
    cmake_parse_arguments(arg "" "" "USES;LINKS;APART" ${ARGN})
    file(GLOB sources CONFIGURE_DEPENDS *.cpp *.h kinds/*.cpp kinds/*.h)
    add_library(ferro_${name} STATIC ${sources})
    add_library(ferro::${name} ALIAS ferro_${name})
    ferro_together(ferro_${name} ${arg_APART})
    ferro_door(${name} ferro_${name} PUBLIC)
    list(TRANSFORM arg_USES PREPEND ferro::)
    target_link_libraries(ferro_${name} PUBLIC ${arg_USES} PRIVATE ferro_options ${arg_LINKS})
    target_precompile_headers(ferro_${name} REUSE_FROM ferro_pch)
endfunction()

function(ferro_door name target scope)
    set(door ${CMAKE_BINARY_DIR}/doors/${name})
    file(MAKE_DIRECTORY ${door})
    file(CREATE_LINK ${CMAKE_CURRENT_SOURCE_DIR} ${door}/${name} SYMBOLIC)
    target_include_directories(${target} ${scope} ${door})
endfunction()
