#include "app/verbs.h"

#include <QStringList>

#include <algorithm>

namespace kervo::app {

std::vector<const Verb*> find_verbs(const std::vector<Verb>& verbs, const QString& typed) {
    struct Ranked {
        int rank;
        const Verb* verb;
    };
    std::vector<Ranked> found;
    const QString wanted = typed.trimmed();
    for (const Verb& verb : verbs) {
        const QStringList words = wanted.split(' ', Qt::SkipEmptyParts);
        const QString all = verb.title + ' ' + verb.group + ' ' + verb.help;
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
