// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "record/logbook.h"

#include <functional>

namespace finch {

/// Reads all entries of a logbook that pass the filter, newest first, page by page, whatever limit the filter has; one
/// that cannot be read is passed over. Errors: those of Logbook::list().
[[nodiscard]] inline Expected<void> every_entry(const Logbook& logbook, EntryFilter filter,
                                                const std::function<void(const Entry&)>& look) {
    filter.limit = 500;
    for (;;) {
        const auto heads = logbook.list(filter);
        if (!heads)
            return tl::unexpected(heads.error());
        for (const Entry& head : *heads)
            if (const auto entry = logbook.entry(head.id))
                look(*entry);
        if (heads->size() < static_cast<std::size_t>(filter.limit))
            return {};
        filter.before_id = heads->back().id;
    }
}

} // namespace finch
