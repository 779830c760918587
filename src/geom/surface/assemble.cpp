#include "geom/surface/assemble.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/hanging_together.h"
#include "geom/measure/measure.h"

#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>

namespace kervo::geom {

namespace {

struct Use {
    size_t face;
    bool forward; // how the face's border runs along the edge
};

class Sides {
public:
    explicit Sides(const std::vector<TopoDS_Shape>& faces) : faces_(faces), turned_(faces.size(), 0) {
        for (size_t i = 0; i < faces.size(); ++i) {
            for (TopExp_Explorer it(faces[i], TopAbs_EDGE); it.More(); it.Next()) {
                if (!BRep_Tool::Degenerated(TopoDS::Edge(it.Current()))) {
                    entry(uses_, it.Current()).push_back({i, it.Current().Orientation() == TopAbs_FORWARD});
                }
            }
        }
        for (size_t i = 0; i < faces.size(); ++i) {
            if (turned_[i] == 0) {
                spread(i);
            }
        }
    }

    [[nodiscard]] TopoDS_Shape face(size_t i) const { return turned_[i] < 0 ? faces_[i].Reversed() : faces_[i]; }
    [[nodiscard]] bool one_sided() const { return one_sided_; }

private:
    void spread(size_t first) {
        turned_[first] = 1;
        std::vector<size_t> open{first};
        while (!open.empty()) {
            const size_t i = open.back();
            open.pop_back();
            for (TopExp_Explorer it(faces_[i], TopAbs_EDGE); it.More(); it.Next()) {
                const auto* uses = uses_.Seek(it.Current());
                if (uses == nullptr || uses->size() != 2 || (*uses)[0].face == (*uses)[1].face) {
                    continue;
                }
                const auto& [other, forward] = (*uses)[0].face == i ? (*uses)[1] : (*uses)[0];
                const bool mine = it.Current().Orientation() == TopAbs_FORWARD;
                const int wanted = mine == forward ? -turned_[i] : turned_[i];
                if (turned_[other] == 0) {
                    turned_[other] = wanted;
                    open.push_back(other);
                }
                one_sided_ = one_sided_ || turned_[other] != wanted;
            }
        }
    }

    const std::vector<TopoDS_Shape>& faces_;
    ByShape<std::vector<Use>> uses_;
    std::vector<int> turned_; // 1: as it is, -1: turned over, 0: not reached yet
    bool one_sided_ = false;
};

} // namespace

Assembled assembled(const std::vector<TopoDS_Shape>& all) {
    std::vector<TopoDS_Shape> faces;
    for (const TopoDS_Shape& each : all) {
        const auto own = faces_of(each);
        faces.insert(faces.end(), own.begin(), own.end());
    }
    const Sides sides(faces);
    std::vector<TopoDS_Shape> alike;
    for (size_t i = 0; i < faces.size(); ++i) {
        alike.push_back(sides.face(i));
    }
    std::vector<TopoDS_Shape> parts;
    const BRep_Builder builder;
    for (const auto& group : hanging_together(alike, TopAbs_EDGE)) {
        if (group.size() == 1) {
            parts.push_back(group.front());
            continue;
        }
        TopoDS_Shell shell;
        builder.MakeShell(shell);
        for (const TopoDS_Shape& face : group) {
            builder.Add(shell, face);
        }
        shell.Closed(is_closed(shell));
        parts.push_back(shell);
    }
    return {gather(parts), sides.one_sided()};
}

TopoDS_Shell closed_shell(const TopoDS_Shape& part) {
    if (part.ShapeType() == TopAbs_SHELL) {
        return TopoDS::Shell(part);
    }
    const BRep_Builder builder;
    TopoDS_Shell shell;
    builder.MakeShell(shell);
    builder.Add(shell, part);
    shell.Closed(Standard_True);
    return shell;
}

} // namespace kervo::geom
