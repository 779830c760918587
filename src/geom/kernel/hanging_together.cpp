#include "geom/kernel/hanging_together.h"

#include "geom/kernel/by_shape.h"

#include <TopExp_Explorer.hxx>
#include <boost/pending/disjoint_sets.hpp>

#include <map>

namespace kervo::geom {

std::vector<std::vector<TopoDS_Shape>> hanging_together(const std::vector<TopoDS_Shape>& shapes, TopAbs_ShapeEnum over,
                                                        const std::function<bool(const TopoDS_Shape&)>& counts) {
    boost::disjoint_sets_with_storage<> sets(shapes.size());
    ByShape<size_t> first;
    for (size_t i = 0; i < shapes.size(); ++i) {
        for (TopExp_Explorer it(shapes[i], over); it.More(); it.Next()) {
            if (counts && !counts(it.Current())) {
                continue;
            }
            if (const size_t* other = first.Seek(it.Current())) {
                sets.union_set(*other, i);
            } else {
                first.Bind(it.Current(), i);
            }
        }
    }
    std::map<size_t, std::vector<TopoDS_Shape>> groups;
    for (size_t i = 0; i < shapes.size(); ++i) {
        groups[sets.find_set(i)].push_back(shapes[i]);
    }
    std::vector<std::vector<TopoDS_Shape>> all;
    for (auto& [root, members] : groups) {
        all.push_back(std::move(members));
    }
    return all;
}

} // namespace kervo::geom
