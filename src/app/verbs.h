// Verbs: everything the window can do, by name. The bar, the menus, the shortcuts and "find a verb" share this one
// list.
#pragma once

#include <QString>

#include <functional>
#include <vector>

namespace kervo::app {

struct Verb {
    QString id;    ///< stable, for tests: "extrude_cut"
    QString group; ///< where it stands in the bar; empty: only in "find a verb"
    QString title;
    QString help;     ///< one line that says what it does
    QString shortcut; ///< portable text, may be empty
    std::function<void()> run;
    std::function<bool()> possible = [] { return true; };
};

/// Verbs whose title, group or help fit what was typed; those whose title starts with it come first.
std::vector<const Verb*> find_verbs(const std::vector<Verb>& verbs, const QString& typed);

} // namespace kervo::app
