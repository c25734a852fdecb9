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
  -Werror -ffile-prefix-map=${CMAKE_SOURCE_DIR}=.)
target_compile_definitions(finch_flags INTERFACE QT_NO_KEYWORDS QT_NO_CAST_FROM_ASCII QT_NO_CAST_TO_ASCII
  QT_DISABLE_DEPRECATED_BEFORE=0x060400 _GLIBCXX_ASSERTIONS)
target_link_options(finch_flags INTERFACE -fuse-ld=lld -Wl,--as-needed)
if(FINCH_SANITIZE)
  # g++ 12 sees uninitialised values in the standard library's own regex once it is instrumented.
  target_compile_options(finch_flags INTERFACE -Wno-maybe-uninitialized)
  target_compile_options(finch_flags INTERFACE -fsanitize=address,undefined -fno-sanitize-recover=undefined -fno-omit-frame-pointer)
  target_link_options(finch_flags INTERFACE -fsanitize=address,undefined)
endif()
