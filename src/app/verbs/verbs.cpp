#include "app/verbs/verbs.h"

#include <QObject>
#include <QStringList>

#include <algorithm>

namespace kervo::app {

const std::vector<BarGroup>& bar_groups() {
    static const std::vector<BarGroup> all{BarGroup::bring_in, BarGroup::draw,   BarGroup::cut,   BarGroup::join,
                                           BarGroup::shape,    BarGroup::inside, BarGroup::check, BarGroup::hand_over};
    return all;
}

QString title_of(BarGroup group) {
    switch (group) {
    case BarGroup::none:
        return {};
    case BarGroup::bring_in:
        return QObject::tr("Bring in");
    case BarGroup::draw:
        return QObject::tr("Draw");
    case BarGroup::cut:
        return QObject::tr("Cut");
    case BarGroup::join:
        return QObject::tr("Join");
    case BarGroup::shape:
        return QObject::tr("Shape");
    case BarGroup::inside:
        return QObject::tr("Look inside");
    case BarGroup::check:
        return QObject::tr("Check");
    case BarGroup::hand_over:
        return QObject::tr("Hand over");
    }
    return {};
}

void add_verbs(std::vector<Verb>& all, std::vector<Verb> more) {
    const auto place = [&](Verb& verb) {
        const auto in_group = [&](const Verb& each) { return each.group == verb.group; };
        auto at = std::find_if(all.rbegin(), all.rend(), in_group).base(); // behind the last of its group
        if (at == all.begin()) {
            at = all.end();
        }
        if (verb.behind == "first") {
            at = std::find_if(all.begin(), all.end(), in_group);
        } else if (!verb.behind.isEmpty()) {
            const auto named =
                std::find_if(all.begin(), all.end(), [&](const Verb& each) { return each.id == verb.behind; });
            if (named == all.end()) {
                return false;
            }
            at = named + 1;
        }
        all.insert(at, std::move(verb));
        return true;
    };
    // Some stand behind others that are added now.
    for (size_t before = 0; before != more.size();) {
        before = more.size();
        std::erase_if(more, place);
    }
    for (Verb& verb : more) {
        verb.behind.clear();
        place(verb);
    }
}

std::vector<const Verb*> find_verbs(const std::vector<Verb>& verbs, const QString& typed) {
    struct Ranked {
        int rank;
        const Verb* verb;
    };
    std::vector<Ranked> found;
    const QString wanted = typed.trimmed();
    for (const Verb& verb : verbs) {
        const QStringList words = wanted.split(' ', Qt::SkipEmptyParts);
        const QString all = verb.title + ' ' + title_of(verb.group) + ' ' + verb.help;
        const bool fits = std::all_of(words.begin(), words.end(),
                                      [&](const QString& w) { return all.contains(w, Qt::CaseInsensitive); });
        if (fits) {
            const int rank = verb.title.compare(wanted, Qt::CaseInsensitive) == 0 ? 0
                             : verb.title.startsWith(wanted, Qt::CaseInsensitive) ? 1
                             : verb.title.contains(wanted, Qt::CaseInsensitive)   ? 2
                                                                                  : 3;
            found.push_back({rank, &verb});
        }
    }
    std::stable_sort(found.begin(), found.end(), [](const Ranked& a, const Ranked& b) { return a.rank < b.rank; });
    std::vector<const Verb*> result;
    result.reserve(found.size());
    for (const Ranked& ranked : found) {
        result.push_back(ranked.verb);
    }
    return result;
}

} // namespace kervo::app
