// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

/// A function that is compiled once more for wide vectors and chosen when the program is loaded. Not under the thread
/// sanitizer: it would watch the choosing before it has started itself, and end the program.
#if defined(__SANITIZE_THREAD__) || !defined(__x86_64__) || !defined(__GNUC__)
#define FINCH_VECTOR_CLONES
#else
#define FINCH_VECTOR_CLONES __attribute__((target_clones("avx2", "default")))
#endif
