// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/session/piece_reader.h"
#include "piece/relief_cut.h"

#include <array>
#include <memory>

namespace finch::app {

/// A height map as it was read.
struct ReadRelief {
    std::string file;
    HeightMap picture;
    GreyUse use;
};
/// What cutting it comes to, and what the other ways to go would.
struct ReliefWork {
    ReliefRules rules; ///< of which it is
    ReliefCut cut;
    std::vector<Finding> findings;
    struct Way {
        ReliefSchool school;
        ReliefRules rules;
        ReliefCut cut;
    };
    std::vector<Way> ways; ///< none until they are worked out
};

/// Reads the chosen height map and works out, in the background, what its layers are, what they take, and what other
/// ways to cut it would: the shape first, then the numbers, then the comparison.
class ReliefReader final : public QObject {
    Q_OBJECT
public:
    explicit ReliefReader(Workbench& workbench, QObject* parent = nullptr);

    /// From now on somebody looks.
    void look();
    /// Whether the file at hand is to be cut as a relief.
    [[nodiscard]] bool chosen() const { return workbench_.draft().piece.relief.has_value(); }
    /// Nothing while it is read, or where it cannot be.
    [[nodiscard]] const ReadRelief* picture() const { return picture_.get(); }
    /// Why there is nothing, or why it cannot be cut so; empty while it is worked out.
    [[nodiscard]] const QString& reason() const {
        return !reason_.isEmpty() ? reason_ : !map_reason_.isEmpty() ? map_reason_ : cut_reason_;
    }
    /// The layers as the rules are now, or as they were just before; nothing until there were any.
    [[nodiscard]] std::shared_ptr<const ReliefMap> map() const { return map_; }
    /// Nothing without a recipe, and while it is worked out for the first time.
    [[nodiscard]] const ReliefWork* work() const { return work_.get(); }
    /// Whether what is shown is of the choices as they are.
    [[nodiscard]] bool running() const {
        return reading_.running() || mapping_.running() || cutting_.running() || exporting_.running();
    }
    /// Whether the recipe was taken on another bench, lens, metal, finish or lot.
    [[nodiscard]] bool taken_elsewhere() const;

    /// Chooses a height map, or reads the file at hand as one; one step that can be undone.
    void open(const QString& file);
    void read_again();
    /// Changes how it is cut. Steps with the same `merge` that follow closely become one.
    void change_rules(const QString& text, const QString& merge, const std::function<void(ReliefRules&)>& edit);
    /// The recipe that is being tuned becomes that of a pass.
    void take_recipe();
    void take_school(ReliefSchool school);
    /// Black and white go where the greys of the picture begin and end.
    void stretch();
    /// How the relief would lie by these rules; answered once, unless asked again.
    void try_place(const PlaceRules& rules, std::function<void(const Expected<PlacedPiece>&)> answer);
    /// Makes of it, as it lies, what a bench runs; answered once, unless asked again.
    void make_ready(std::function<void(const Expected<std::shared_ptr<const ReadyJob>>&)> answer);
    /// Makes the job in the background and writes it, in the form that the ending of the file says.
    void export_to(const QString& path);

Q_SIGNALS:
    void changed();

private:
    struct MapKey {
        std::shared_ptr<const ReadRelief> of;
        ReliefRules rules; ///< those that make layers; the rest is left as it usually is
        bool operator==(const MapKey&) const = default;
    };
    struct CutKey {
        std::shared_ptr<const ReliefMap> of;
        ReliefChoice choice;
        Setup setup;
        Evidence evidence;
        bool operator==(const CutKey&) const = default;
    };
    void want();
    void want_map();
    void want_cut();
    void want_ways(const CutKey& key);
    void forget();

    Workbench& workbench_;
    bool looked_at_ = false;
    [[nodiscard]] std::optional<Error> not_ready() const;
    Latest reading_, mapping_, cutting_, comparing_, exporting_, trying_, handing_;
    std::string asked_;
    std::shared_ptr<const ReadRelief> picture_;
    std::optional<MapKey> map_key_;
    std::shared_ptr<const ReliefMap> map_;
    std::optional<CutKey> cut_key_;
    /// Goes up with every change: work that takes seconds looks at it on its way.
    std::shared_ptr<std::atomic<int>> changes_ = std::make_shared<std::atomic<int>>(0);
    std::shared_ptr<const ReliefWork> work_;
    QString reason_, map_reason_, cut_reason_; ///< of the file, of its layers, of cutting them
};

} // namespace finch::app
