// Verbs as one list, from wherever they come.
#include "app/verbs/verbs.h"

#include <gtest/gtest.h>

using namespace kervo::app;

namespace {

Verb verb(const char* id, BarGroup group, const char* behind = "") {
    return {id, group, id, {}, {}, [] {}, [] { return true; }, behind};
}

std::string order(const std::vector<Verb>& verbs) {
    std::string ids;
    for (const Verb& each : verbs) {
        ids += (ids.empty() ? "" : " ") + each.id.toStdString();
    }
    return ids;
}

TEST(Verbs, StandBehindTheOneThatTheyName) {
    std::vector<Verb> verbs{verb("a", BarGroup::cut), verb("b", BarGroup::cut), verb("c", BarGroup::join)};
    add_verbs(verbs, {verb("d", BarGroup::cut, "a"), verb("e", BarGroup::cut), verb("f", BarGroup::join, "first")});
    EXPECT_EQ(order(verbs), "a d b e f c");
}

TEST(Verbs, StandBehindOthersThatAreAddedWithThemInWhateverOrder) {
    std::vector<Verb> verbs{verb("a", BarGroup::cut)};
    add_verbs(verbs, {verb("d", BarGroup::cut, "c"), verb("c", BarGroup::cut, "b"), verb("b", BarGroup::cut, "a")});
    EXPECT_EQ(order(verbs), "a b c d");
}

TEST(Verbs, WhoseNeighbourIsNotThereComeAtTheEndOfTheirGroup) {
    std::vector<Verb> verbs{verb("a", BarGroup::cut), verb("z", BarGroup::check)};
    add_verbs(verbs, {verb("b", BarGroup::cut, "nobody"), verb("c", BarGroup::cut, "b"), verb("n", BarGroup::draw)});
    EXPECT_EQ(order(verbs), "a b c z n");
}

TEST(Verbs, AreFoundByPartsOfTheirWordsWithTheirGroups) {
    std::vector<Verb> verbs{verb("Extrude cut", BarGroup::cut), verb("Cut by bodies", BarGroup::cut),
                            verb("Extrude", BarGroup::draw)};
    const auto found = find_verbs(verbs, "extrude");
    ASSERT_EQ(found.size(), 2u);
    EXPECT_EQ(found[0]->id, QString("Extrude")); // exactly that
    EXPECT_EQ(find_verbs(verbs, "bod cut").size(), 1u);
    EXPECT_EQ(find_verbs(verbs, "").size(), 3u);
    EXPECT_EQ(find_verbs(verbs, "draw").size(), 1u); // by its place in the bar
}

} // namespace
