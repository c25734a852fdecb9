# SPDX-FileCopyrightText: 2026 The Gilded Finch developers
# SPDX-License-Identifier: GPL-3.0-or-later
# Flags for our own code only: everything goes through the target finch_flags, never through global flag strings.
find_program(CCACHE ccache)
if(CCACHE)
  set(CMAKE_CXX_COMPILER_LAUNCHER env CCACHE_BASEDIR=${CMAKE_SOURCE_DIR} CCACHE_NOHASHDIR=1
                                  CCACHE_SLOPPINESS=pch_defines,time_macros ${CCACHE})
endif()

add_library(finch_flags INTERFACE)
target_compile_options(finch_flags INTERFACE -Wall -Wextra -Wpedantic -Wshadow -Wconversion -Wno-sign-conversion -Werror=switch
  $<$<BOOL:${FINCH_STRICT}>:-Werror> -ffile-prefix-map=${CMAKE_SOURCE_DIR}=.)
target_compile_definitions(finch_flags INTERFACE QT_NO_KEYWORDS QT_NO_CAST_FROM_ASCII QT_NO_CAST_TO_ASCII
  QT_DISABLE_DEPRECATED_BEFORE=0x060400 _GLIBCXX_ASSERTIONS)
if(CMAKE_CXX_COMPILER_ID STREQUAL GNU)
  # The compiler collects its garbage from 128 MB on; the precompiled headers alone are larger. An eighth of the time.
  target_compile_options(finch_flags INTERFACE "SHELL:--param ggc-min-expand=300" "SHELL:--param ggc-min-heapsize=1500000")
endif()
target_link_options(finch_flags INTERFACE -fuse-ld=lld -Wl,--as-needed)
if(FINCH_SANITIZE)
  # g++ 12 sees uninitialised values where there are none once the standard library is instrumented.
  target_compile_options(finch_flags INTERFACE -Wno-maybe-uninitialized)
  # Undefined arithmetic, and numbers that do not fit what they are turned into. Checks of pointers are left to the
  # address sanitizer, which sees the access itself: asking twice costs a third of the build (docs/decisions/0018).
  set(arithmetic undefined,float-cast-overflow)
  target_compile_options(finch_flags INTERFACE -fsanitize=address,${arithmetic} -fno-sanitize-recover=${arithmetic}
    -fno-sanitize=null,alignment,object-size,vptr,pointer-overflow,nonnull-attribute,returns-nonnull-attribute
    -fno-omit-frame-pointer)
  target_link_options(finch_flags INTERFACE -fsanitize=address,undefined)
endif()

# For rooms that compute: their time is in their own code, that of the others in what they call. Presets for tests
# build these alone with optimisation.
set(FINCH_COMPUTE_FLAGS "" CACHE STRING "More flags for the rooms that compute")
add_library(finch_compute_flags INTERFACE)
target_link_libraries(finch_compute_flags INTERFACE finch_flags)
target_compile_options(finch_compute_flags INTERFACE ${FINCH_COMPUTE_FLAGS})

if(FINCH_SANITIZE_THREADS)
  target_compile_options(finch_flags INTERFACE -Wno-maybe-uninitialized -Wno-tsan -fsanitize=thread -fno-omit-frame-pointer)
  target_link_options(finch_flags INTERFACE -fsanitize=thread)
endif()

# Files of one room are compiled together, in groups that keep two cores busy: a header is then read once for many files,
# and a build from nothing takes a third of the time. The price is that names in a room's files must not clash; that
# includes stay honest is checked by building one file at a time (the dev preset) and every header alone (./finch lint).
# Call it once a target has all its sources.
option(FINCH_UNITY "Compile the files of a room together" OFF)
set(FINCH_UNITY_FILES 12 CACHE STRING "Files that are compiled together")
function(finch_unity target)
  if(NOT FINCH_UNITY)
    return()
  endif()
  set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_MODE GROUP)
  get_target_property(sources ${target} SOURCES)
  foreach(source ${sources})
    if(NOT source MATCHES "\\.cpp$")
      continue()
    endif()
    get_source_file_property(own_options ${source} COMPILE_OPTIONS)
    if(own_options)
      continue()
    endif()
    get_filename_component(room ${source} DIRECTORY)
    string(MAKE_C_IDENTIFIER "room_${room}" room)
    if(NOT DEFINED count_${room})
      set(count_${room} 0)
    endif()
    math(EXPR group "${count_${room}} / ${FINCH_UNITY_FILES}")
    math(EXPR count_${room} "${count_${room}} + 1")
    set_source_files_properties(${source} PROPERTIES UNITY_GROUP "${room}_${group}")
  endforeach()
endfunction()
