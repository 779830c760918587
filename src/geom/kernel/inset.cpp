#include "geom/kernel/inset.h"

#include "base/helper.h"
#include "geom/measure/measure.h"

#include <BRepOffset_MakeOffset.hxx>
#include <BRepOffset_MakeSimpleOffset.hxx>
#include <BinTools.hxx>
#include <Standard_Failure.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>

#include <limits>
#include <sstream>

namespace kervo::geom {

namespace {

constexpr double offset_tolerance = 1e-5; // mm

// Numbers in words, which come back as they were, then the shape.
std::ostringstream in_words() {
    std::ostringstream text;
    text.precision(std::numeric_limits<double>::max_digits10);
    return text;
}

TopoDS_Shape read_shape(std::istream& in) {
    in.ignore(1); // the end of the line before it
    TopoDS_Shape shape;
    BinTools::Read(shape, in);
    return shape;
}

std::string packed(const InsetTask& task) {
    auto text = in_words();
    text << task.order << ' ' << (task.corners == Corners::sharp ? 0 : 1) << ' ' << task.thickens << ' '
         << task.thickness << ' ' << task.own.size();
    for (const auto& [face, thickness] : task.own) {
        text << ' ' << face << ' ' << thickness;
    }
    text << '\n';
    BinTools::Write(task.solid, text);
    return text.str();
}

InsetTask unpacked_task(const std::string& bytes) {
    std::istringstream text(bytes);
    InsetTask task;
    int corners = 0;
    size_t count = 0;
    text >> task.order >> corners >> task.thickens >> task.thickness >> count;
    task.corners = corners == 0 ? Corners::sharp : Corners::round;
    for (size_t i = 0; i < count; ++i) {
        size_t face = 0;
        text >> face >> task.own[face];
    }
    task.solid = read_shape(text);
    return task;
}

std::vector<TopoDS_Shape> sources_of(const TopoDS_Shape& solid) {
    auto sources = faces_of(solid);
    const auto edges = edges_of(solid);
    sources.insert(sources.end(), edges.begin(), edges.end());
    return sources;
}

Inset unpacked_inset(const std::string& bytes) {
    std::istringstream text(bytes);
    size_t count = 0;
    text >> count;
    std::vector<std::pair<size_t, size_t>> pairs(count);
    for (auto& [face, source] : pairs) {
        text >> face >> source;
    }
    Inset inset;
    inset.shape = read_shape(text);
    const auto faces = faces_of(inset.shape);
    for (const auto& [face, source] : pairs) {
        inset.made.push_back({faces.at(face), source});
    }
    return inset;
}

} // namespace

namespace {

// The answer in bytes: which faces were made of what, and the shape. `made_of` hands out what became of a source.
template <class MadeOf>
std::string answer(const TopoDS_Shape& shape, const std::vector<TopoDS_Shape>& sources, const MadeOf& made_of) {
    TopTools_IndexedMapOfShape faces;
    for (const TopoDS_Shape& face : faces_of(shape)) {
        faces.Add(face);
    }
    std::vector<std::pair<int, size_t>> pairs;
    for (size_t i = 0; i < sources.size(); ++i) {
        made_of(sources[i], [&](const TopoDS_Shape& made) {
            if (const int face = faces.FindIndex(made); face > 0) {
                pairs.emplace_back(face - 1, i);
            }
        });
    }
    auto text = in_words();
    text << pairs.size();
    for (const auto& [face, source] : pairs) {
        text << ' ' << face << ' ' << source;
    }
    text << '\n';
    BinTools::Write(shape, text);
    return text.str();
}

bool runs_smoothly(const TopoDS_Shape& surface) {
    TopTools_IndexedDataMapOfShapeListOfShape faces_at;
    TopExp::MapShapesAndAncestors(surface, TopAbs_EDGE, TopAbs_FACE, faces_at);
    for (int i = 1; i <= faces_at.Extent(); ++i) {
        const auto& faces = faces_at(i);
        if (faces.Extent() == 2 && !faces.First().IsSame(faces.Last()) &&
            !is_smooth(faces_at.FindKey(i), faces.First(), faces.Last())) {
            return false;
        }
    }
    return true;
}

// Faces that run into each other smoothly are shifted one by one, with walls on the borders. Empty where that fails.
std::string thickened_simply(const InsetTask& task, const std::vector<TopoDS_Shape>& sources) {
    BRepOffset_MakeSimpleOffset maker(task.solid, -task.thickness);
    maker.SetTolerance(offset_tolerance);
    maker.SetBuildSolidFlag(Standard_True);
    maker.Perform();
    if (!maker.IsDone() || maker.GetResultShape().IsNull()) {
        return {};
    }
    return answer(maker.GetResultShape(), sources, [&](const TopoDS_Shape& source, const auto& take) {
        const TopoDS_Shape made = maker.Generated(source);
        if (!made.IsNull()) {
            take(made);
        }
    });
}

} // namespace

std::string answer_inset(const std::string& task_bytes) {
    std::vector<std::string> in_the_way;
    for (int i = 0; i < 1000 * std::atoi(task_bytes.c_str()); ++i) {
        in_the_way.emplace_back(32 + (i % 61) * 16, ' ');
    }
    const InsetTask task = unpacked_task(task_bytes);
    const auto sources = sources_of(task.solid);
    if (task.thickens && task.order == 0 && runs_smoothly(task.solid)) {
        if (auto simple = thickened_simply(task, sources); !simple.empty()) {
            return simple;
        }
    }
    BRepOffset_MakeOffset maker;
    maker.Initialize(task.solid, -task.thickness, offset_tolerance, BRepOffset_Skin, Standard_False, Standard_False,
                     task.corners == Corners::sharp ? GeomAbs_Intersection : GeomAbs_Arc, task.thickens);
    for (const auto& [face, thickness] : task.own) {
        maker.SetOffsetOnFace(TopoDS::Face(sources.at(face)), -thickness);
    }
    maker.MakeOffsetShape();
    if (!maker.IsDone() || maker.Shape().IsNull()) {
        return {};
    }
    return answer(maker.Shape(), sources, [&](const TopoDS_Shape& source, const auto& take) {
        for (const TopoDS_Shape& made : maker.Generated(source)) {
            take(made);
        }
    });
}

std::pair<InsetEnd, Inset> make_inset(const InsetTask& task, double seconds, Progress& progress) {
    constexpr size_t largest = 2ULL << 30U; // bytes
    Helper helper;
    HelperLimits limits;
    limits.processor = seconds;
    limits.same_memory = true;
    limits.still = 20 * seconds; // it tells nothing of how far it is, and may have to wait for a processor
    switch (helper.run("inset", packed(task), limits, progress)) {
    case Helper::End::done: {
        const auto answer = helper.output(largest);
        try {
            return !answer || answer->empty() ? std::pair{InsetEnd::none, Inset{}}
                                              : std::pair{InsetEnd::done, unpacked_inset(*answer)};
        } catch (const Standard_Failure&) {
            return {InsetEnd::none, {}};
        } catch (const std::exception&) {
            return {InsetEnd::none, {}};
        }
    }
    case Helper::End::too_long:
        return {InsetEnd::never_ends, {}};
    case Helper::End::missing:
        return {InsetEnd::no_helper, {}};
    case Helper::End::cancelled:
        return {InsetEnd::cancelled, {}};
    case Helper::End::refused:
    case Helper::End::crashed:
        break;
    }
    return {InsetEnd::none, {}};
}

} // namespace kervo::geom
