// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/log.h"
#include "quantity/error.h"

#include <exception>
#include <type_traits>

namespace finch::app {

namespace detail {
template <typename T>
struct AsExpected {
    using type = Expected<T>;
};
template <typename T>
struct AsExpected<Expected<T>> {
    using type = Expected<T>;
};
} // namespace detail

/// The border of a worker, a slot or a message handler: runs work, and turns an exception, which would be a fault of
/// ours, into an error that is logged, shown and survived. `what` says what was being done.
template <typename Work>
auto guarded(const char* what, Work&& work) {
    using Result = typename detail::AsExpected<std::invoke_result_t<Work>>::type;
    try {
        if constexpr (std::is_void_v<std::invoke_result_t<Work>>) {
            work();
            return Result();
        } else
            return Result(work());
    } catch (const std::exception& e) {
        return Result(tl::unexpected(internal_fault(what, e.what())));
    } catch (...) {
        return Result(tl::unexpected(internal_fault(what, "something that is no std::exception")));
    }
}

} // namespace finch::app
