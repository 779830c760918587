#include "scene/pick_tree.h"

#include <embree3/rtcore.h>
#include <spdlog/spdlog.h>

#include <mutex>

namespace kervo::scene {

namespace {

// One for the program; it lives as long.
RTCDevice device() {
    static const RTCDevice made = [] {
        const RTCDevice fresh = rtcNewDevice(nullptr);
        rtcSetDeviceErrorFunction(
            fresh, [](void*, RTCError code, const char* text) { spdlog::error("Embree: {} {}", int(code), text); },
            nullptr);
        return fresh;
    }();
    return made;
}

struct Released {
    void operator()(RTCScene scene) const { rtcReleaseScene(scene); }
};
using Scene = std::unique_ptr<RTCSceneTy, Released>;

Scene new_scene() {
    Scene scene(rtcNewScene(device()));
    rtcSetSceneBuildQuality(scene.get(), RTC_BUILD_QUALITY_LOW);
    rtcSetSceneFlags(scene.get(), RTC_SCENE_FLAG_ROBUST);
    return scene;
}

// The place of a stretch that is nearest to the line.
Point3 nearest(const Line3& line, const Point3& a, const Point3& b) {
    const Vector3 way = b - a;
    const Vector3 across = way - line.along * way.dot(line.along);
    const Vector3 to_line = line.from - a;
    const double size = across.dot(across);
    const bool alongside = size <= 1e-24 * way.dot(way);
    const double share = alongside ? (way.dot(line.along) < 0 ? 1.0 : 0.0) // its nearer end
                                   : std::clamp(to_line.dot(across) / size, 0.0, 1.0);
    return a + way * share;
}

} // namespace

struct PickTree::Trees {
    explicit Trees(std::shared_ptr<const Mesh> seen) : mesh(std::move(seen)) {
        if (!mesh->box.empty()) {
            middle = mesh->box.middle();
        }
        boxes.reserve(mesh->edges.size());
        for (const Polyline3& edge : mesh->edges) {
            Box3& box = boxes.emplace_back();
            for (const Point3& p : edge) {
                box.add(p);
            }
        }
    }

    const std::shared_ptr<const Mesh> mesh;
    Point3 middle; ///< Embree's numbers are small ones: they count from here
    std::once_flag triangles_once;
    Scene triangles;
    std::mutex guard;        ///< of what follows
    std::vector<Box3> boxes; ///< of the edges
    Scene lines;
    double reach = 0; ///< for which `lines` was built

    void build_triangles() {
        triangles = new_scene();
        const RTCGeometry geometry = rtcNewGeometry(device(), RTC_GEOMETRY_TYPE_TRIANGLE);
        auto* nodes =
            static_cast<float*>(rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                                                        3 * sizeof(float), std::max<size_t>(mesh->nodes.size(), 1)));
        for (const Point3& p : mesh->nodes) {
            const Vector3 v = p - middle;
            for (const double c : {v.x, v.y, v.z}) {
                *nodes++ = static_cast<float>(c);
            }
        }
        auto* indices = static_cast<uint32_t*>(rtcSetNewGeometryBuffer(
            geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 3 * sizeof(uint32_t), mesh->triangles.size()));
        for (const auto& triangle : mesh->triangles) {
            indices = std::copy(triangle.begin(), triangle.end(), indices);
        }
        rtcSetGeometryBuildQuality(geometry, RTC_BUILD_QUALITY_LOW);
        rtcCommitGeometry(geometry);
        rtcAttachGeometry(triangles.get(), geometry);
        rtcReleaseGeometry(geometry);
        rtcCommitScene(triangles.get());
    }

    // Edges first, then vertices, each in a box that is wider by the reach.
    void build_lines(double wider) {
        reach = wider;
        lines = new_scene();
        const RTCGeometry geometry = rtcNewGeometry(device(), RTC_GEOMETRY_TYPE_USER);
        rtcSetGeometryUserPrimitiveCount(geometry, static_cast<unsigned>(boxes.size() + mesh->vertices.size()));
        rtcSetGeometryUserData(geometry, this);
        rtcSetGeometryBoundsFunction(
            geometry, [](const RTCBoundsFunctionArguments* asked) { bounds(*asked); }, nullptr);
        rtcSetGeometryIntersectFunction(geometry, [](const RTCIntersectFunctionNArguments* met) { pass(*met); });
        rtcSetGeometryBuildQuality(geometry, RTC_BUILD_QUALITY_LOW);
        rtcCommitGeometry(geometry);
        rtcAttachGeometry(lines.get(), geometry);
        rtcReleaseGeometry(geometry);
        rtcCommitScene(lines.get());
    }

    static void bounds(const RTCBoundsFunctionArguments& asked) {
        const auto& own = *static_cast<const Trees*>(asked.geometryUserPtr);
        Box3 box;
        if (asked.primID < own.boxes.size()) {
            box = own.boxes[asked.primID];
        } else {
            box.add(own.mesh->vertices[asked.primID - own.boxes.size()]);
        }
        if (box.empty()) { // none: Embree leaves it out
            *asked.bounds_o = {1, 1, 1, 0, -1, -1, -1, 0};
            return;
        }
        const Vector3 low = box.low - own.middle;
        const Vector3 high = box.high - own.middle;
        // A hair more, for the rounding to short numbers.
        const double size = std::max({std::fabs(low.x), std::fabs(low.y), std::fabs(low.z), std::fabs(high.x),
                                      std::fabs(high.y), std::fabs(high.z)});
        const double more = own.reach + size * 1e-6;
        const auto narrow = [](double c) { return static_cast<float>(c); };
        *asked.bounds_o = {narrow(low.x - more),  narrow(low.y - more),  narrow(low.z - more),  0,
                           narrow(high.x + more), narrow(high.y + more), narrow(high.z + more), 0};
    }

    struct Pass {
        RTCIntersectContext context;
        const Line3* line;
        double reach, from, to;
        std::vector<Near>* found;

        [[nodiscard]] Near seen(bool vertex, int index, const Point3& place) const {
            const double at = line->foot(place);
            return {vertex, index, place, at, (place - line->at(at)).length()};
        }
    };

    static void pass(const RTCIntersectFunctionNArguments& met) {
        const auto& own = *static_cast<const Trees*>(met.geometryUserPtr);
        const auto& asked = *reinterpret_cast<const Pass*>(met.context);
        const auto take = [&](const Near& each) {
            if (each.away <= asked.reach && each.at >= asked.from && each.at <= asked.to) {
                asked.found->push_back(each);
            }
        };
        const auto edges = own.boxes.size();
        if (met.primID >= edges) {
            const auto index = static_cast<size_t>(met.primID) - edges;
            const Point3& place = own.mesh->vertices[index];
            take(asked.seen(true, static_cast<int>(index), place));
            return;
        }
        const Polyline3& edge = own.mesh->edges[met.primID];
        std::optional<Near> best;
        for (size_t i = 1; i < edge.size(); ++i) {
            const Near each =
                asked.seen(false, static_cast<int>(met.primID), nearest(*asked.line, edge[i - 1], edge[i]));
            // Of two places that are equally near in the picture the one in front counts.
            const double same = 1e-9 * asked.reach;
            if (each.at >= asked.from && each.at <= asked.to &&
                (!best || each.away < best->away - same || (each.away < best->away + same && each.at < best->at))) {
                best = each;
            }
        }
        if (best) {
            take(*best);
        }
    }

    // From the middle of the numbers, so that what is short in them is enough.
    [[nodiscard]] RTCRay ray_along(const Line3& line, double from, double to, double& start) const {
        start = std::max(from, line.foot(middle) - mesh->box.diagonal() - reach);
        const Vector3 origin = line.at(start) - middle;
        RTCRay ray{};
        ray.org_x = static_cast<float>(origin.x);
        ray.org_y = static_cast<float>(origin.y);
        ray.org_z = static_cast<float>(origin.z);
        ray.dir_x = static_cast<float>(line.along.x);
        ray.dir_y = static_cast<float>(line.along.y);
        ray.dir_z = static_cast<float>(line.along.z);
        ray.tnear = 0;
        ray.tfar = static_cast<float>(std::max(to - start, -1.0));
        ray.mask = ~0U;
        return ray;
    }
};

PickTree::PickTree(std::shared_ptr<const Mesh> mesh) : trees_(std::make_unique<Trees>(std::move(mesh))) {}
PickTree::~PickTree() = default;

void PickTree::prepare() const {
    if (!trees_->mesh->triangles.empty()) {
        std::call_once(trees_->triangles_once, [this] { trees_->build_triangles(); });
    }
}

std::optional<PickTree::FaceHit> PickTree::first_face(const Line3& line, double from, double to) const {
    const Mesh& mesh = *trees_->mesh;
    if (mesh.triangles.empty()) {
        return std::nullopt;
    }
    prepare();
    double start = 0;
    RTCRayHit met{};
    met.ray = trees_->ray_along(line, from, to, start);
    met.hit.geomID = RTC_INVALID_GEOMETRY_ID;
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcIntersect1(trees_->triangles.get(), &context, &met);
    if (met.hit.geomID == RTC_INVALID_GEOMETRY_ID) {
        return std::nullopt;
    }
    const auto& triangle = mesh.triangles[met.hit.primID];
    const auto face = std::upper_bound(mesh.faces.begin(), mesh.faces.end(), met.hit.primID,
                                       [](uint32_t index, const Mesh::Range& range) { return index < range.last; });
    // The place again, in long numbers.
    const Point3& a = mesh.nodes[triangle[0]];
    const Vector3 normal = (mesh.nodes[triangle[1]] - a).cross(mesh.nodes[triangle[2]] - a);
    const double slope = normal.dot(line.along);
    const double rough = start + static_cast<double>(met.ray.tfar);
    const double at = std::fabs(slope) > 1e-6 * normal.length() ? normal.dot(a - line.from) / slope : rough;
    return FaceHit{static_cast<int>(face - mesh.faces.begin()), at, slope > 0};
}

std::vector<PickTree::Near> PickTree::near(const Line3& line, double reach, double from, double to) const {
    std::vector<Near> found;
    Trees& trees = *trees_;
    if (trees.mesh->edges.empty() && trees.mesh->vertices.empty()) {
        return found;
    }
    const std::lock_guard lock(trees.guard);
    // Its boxes serve while the picture is zoomed a little.
    if (!trees.lines || reach > trees.reach || reach < trees.reach / 16) {
        trees.build_lines(reach * 2);
    }
    Trees::Pass asked{{}, &line, reach, from, to, &found};
    rtcInitIntersectContext(&asked.context);
    double start = 0;
    RTCRayHit met{};
    // What it passes may be nearest to it a little before or behind.
    met.ray = trees.ray_along(line, from - 2 * trees.reach, to + 2 * trees.reach, start);
    met.hit.geomID = RTC_INVALID_GEOMETRY_ID;
    rtcIntersect1(trees.lines.get(), &asked.context, &met);
    return found;
}

} // namespace kervo::scene
