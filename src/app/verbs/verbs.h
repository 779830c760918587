// Verbs: everything the window can do, by name. The bar, the menus, the shortcuts and "find a verb" share one list of
// them.
#pragma once

#include <QString>

#include <functional>
#include <vector>

namespace kervo::app {

/// Where a verb stands in the bar.
enum class BarGroup {
    none, ///< only in "find a verb"
    bring_in,
    draw,
    cut,
    join,
    shape,
    inside,
    check,
    hand_over
};

struct Verb {
    QString id; ///< stable, for tests: "extrude_cut"
    BarGroup group = BarGroup::none;
    QString title;
    QString help;     ///< one line that says what it does
    QString shortcut; ///< portable text, may be empty
    std::function<void()> run;
    std::function<bool()> possible = [] { return true; };
    QString behind = {}; ///< the verb that it stands after; "first": before all of its group; empty: at the group's end
};

/// As the bar has them, from left to right.
const std::vector<BarGroup>& bar_groups();
/// Empty for none.
QString title_of(BarGroup group);

/// Adds verbs where they want to stand. What stands behind one that is not there, not even among those that are added,
/// comes at the end of its group.
void add_verbs(std::vector<Verb>& all, std::vector<Verb> more);

/// Verbs whose title, group or help fit what was typed; those whose title starts with it come first.
std::vector<const Verb*> find_verbs(const std::vector<Verb>& verbs, const QString& typed);

} // namespace kervo::app
