// DXF after its published reference (of 2018), by way of dxflib.
#include "io/formats/dxf/dxf.h"
#include "io/formats/dxf/dxf_scan.h"
#include "io/formats/dxf/dxf_spline.h"
#include "io/formats/outline_joins.h"
#include "io/formats/outline_pen.h"
#include "io/formats/told_stream.h"

#include <dxflib/dl_creationadapter.h>
#include <dxflib/dl_dxf.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <set>

namespace kervo::io {

using sketch::Point2;

namespace {

constexpr double full_turn = 2 * std::numbers::pi;
constexpr int most_depth = 32;
constexpr size_t most_chains = 100000;

// In rad, within a turn: a damaged file has any number of them.
double angle_of(double degrees) {
    return std::fmod(degrees, 360) * full_turn / 360;
}

Affine turned(double angle) {
    return {std::cos(angle), std::sin(angle), -std::sin(angle), std::cos(angle), 0, 0};
}

// Everything of a file, block by block, as it stands there; put together once all of it is read.
class Collector : public DL_CreationAdapter {
public:
    struct Drawn {
        std::string layer;
        std::vector<std::vector<sketch::Stretch>> chains;
    };
    struct Placed {
        std::string layer;
        DL_InsertData insert;
        Affine plane;
    };
    struct Block {
        Point2 base{};
        std::vector<Drawn> drawn;
        std::vector<Placed> placed;
    };

    std::map<std::string, Block> blocks;
    std::set<std::string> hidden; ///< layers
    std::set<std::string> skipped;
    int units = 0;

    Block& here() { return blocks[block_]; }

    void addLayer(const DL_LayerData& data) override {
        const bool frozen = (data.flags & 1) != 0;
        const bool off = getAttributes().getColor() < 0;
        if (frozen || off) {
            hidden.insert(data.name);
        }
    }
    void setVariableInt(const std::string& key, int value, int /*code*/) override {
        if (key == "$INSUNITS") {
            units = value;
        }
    }
    void addBlock(const DL_BlockData& data) override {
        block_ = data.name;
        here().base = {data.bpx, data.bpy};
    }
    void endBlock() override { block_.clear(); }

    void addLine(const DL_LineData& data) override {
        draw(
            {data.z1, data.z2},
            [&](Pen& pen) {
                pen.move({data.x1, data.y1});
                pen.line({data.x2, data.y2});
            },
            true);
    }
    void addCircle(const DL_CircleData& data) override { round(data.cx, data.cy, data.radius, 0, full_turn); }
    void addArc(const DL_ArcData& data) override {
        const double from = angle_of(data.angle1);
        double sweep = std::fmod(angle_of(data.angle2) - from, full_turn);
        sweep += sweep <= 0 ? full_turn : 0;
        round(data.cx, data.cy, data.radius, from, sweep);
    }
    void addEllipse(const DL_EllipseData& data) override {
        if (!(data.ratio > 0)) {
            skipped.insert("an ellipse without a width");
            return;
        }
        const double from = std::fmod(data.angle1, full_turn);
        double sweep = std::fmod(std::fmod(data.angle2, full_turn) - from, full_turn);
        sweep += sweep <= 1e-12 ? full_turn : 0;
        // An ellipse's axis is given in the world, not in its own plane; seen from below it runs the other way round.
        const double side = from_below() ? -1 : 1;
        draw(
            {data.mz},
            [&](Pen& pen) {
                const Point2 center{data.cx, data.cy};
                const Point2 u{data.mx, data.my};
                const Point2 v{-side * data.ratio * data.my, side * data.ratio * data.mx};
                pen.move(center);
                pen.round(center, u, v, from, sweep, center);
            },
            true);
    }

    void addPolyline(const DL_PolylineData& data) override {
        finish_polyline();
        if ((data.flags & 4) != 0) {
            skipped.insert("a polyline smoothed to a spline");
        } else if ((data.flags & (16 | 64)) != 0) {
            skipped.insert("a mesh of polygons");
        } else {
            polyline_ = true;
            polyline_closed_ = (data.flags & 1) != 0;
            polyline_attributes_ = getAttributes();
        }
    }
    void addVertex(const DL_VertexData& data) override {
        if (polyline_) {
            vertices_.push_back(data);
        }
    }
    void endSequence() override { finish_polyline(); }
    void endEntity() override {
        finish_spline();
        finish_polyline();
    }

    void addSpline(const DL_SplineData& data) override {
        finish_spline();
        spline_ = data;
    }
    void addKnot(const DL_KnotData& data) override { knots_.push_back(data.k); }
    void addControlPoint(const DL_ControlPointData& data) override { controls_.push_back(data); }
    void addFitPoint(const DL_FitPointData& data) override { fits_.push_back({data.x, data.y}); }

    void addInsert(const DL_InsertData& data) override {
        if (usable()) {
            here().placed.push_back({getAttributes().getLayer(), data, plane()});
        }
    }

    void addPoint(const DL_PointData& /*data*/) override { skipped.insert("a point"); }
    void addRay(const DL_RayData& /*data*/) override { skipped.insert("a ray without end"); }
    void addXLine(const DL_XLineData& /*data*/) override { skipped.insert("a line without ends"); }
    void addText(const DL_TextData& /*data*/) override { skip_words(); }
    void addMText(const DL_MTextData& /*data*/) override { skip_words(); }
    void addArcAlignedText(const DL_ArcAlignedTextData& /*data*/) override { skip_words(); }
    void addAttribute(const DL_AttributeData& /*data*/) override { skip_words(); }
    void addTrace(const DL_TraceData& data) override { quadrangle(data); }
    void addSolid(const DL_SolidData& data) override { quadrangle(data); }
    void add3dFace(const DL_3dFaceData& /*data*/) override { skipped.insert("a face in space"); }
    void addDimAlign(const DL_DimensionData& /*d*/, const DL_DimAlignedData& /*e*/) override { skip_dimension(); }
    void addDimLinear(const DL_DimensionData& /*d*/, const DL_DimLinearData& /*e*/) override { skip_dimension(); }
    void addDimRadial(const DL_DimensionData& /*d*/, const DL_DimRadialData& /*e*/) override { skip_dimension(); }
    void addDimDiametric(const DL_DimensionData& /*d*/, const DL_DimDiametricData& /*e*/) override { skip_dimension(); }
    void addDimAngular(const DL_DimensionData& /*d*/, const DL_DimAngular2LData& /*e*/) override { skip_dimension(); }
    void addDimAngular3P(const DL_DimensionData& /*d*/, const DL_DimAngular3PData& /*e*/) override { skip_dimension(); }
    void addDimOrdinate(const DL_DimensionData& /*d*/, const DL_DimOrdinateData& /*e*/) override { skip_dimension(); }
    void addLeader(const DL_LeaderData& /*data*/) override { skipped.insert("a leader"); }
    void addHatch(const DL_HatchData& /*data*/) override { skipped.insert("a hatching"); }
    void addImage(const DL_ImageData& /*data*/) override { skipped.insert("a picture"); }

    void finish_all() {
        finish_spline();
        finish_polyline();
    }

private:
    void skip_words() { skipped.insert("words that are not outlines"); }
    void skip_dimension() { skipped.insert("a dimension"); }

    [[nodiscard]] bool from_below() { return getExtrusion() != nullptr && getExtrusion()->getDirection()[2] < 0; }
    // The plane of an entity: looked at from above, or from below (the x-axis then runs the other way).
    [[nodiscard]] Affine plane() { return from_below() ? Affine{-1, 0, 0, 1, 0, 0} : Affine{}; }
    bool usable() {
        if (getAttributes().isInPaperSpace()) {
            skipped.insert("what stands on the sheet, not in the model");
            return false;
        }
        const double* d = getExtrusion() == nullptr ? nullptr : getExtrusion()->getDirection();
        if (d != nullptr && std::hypot(d[0], d[1]) > 1e-6 * std::fabs(d[2])) {
            skipped.insert("a curve in a plane that is not level");
            return false;
        }
        return true;
    }
    template <class Strokes> void draw(const std::vector<double>& heights, const Strokes& strokes, bool in_world) {
        if (!usable()) {
            return;
        }
        if (std::any_of(heights.begin(), heights.end(),
                        [&](double z) { return std::fabs(z - (heights.size() > 1 ? heights[0] : 0)) > 1e-9; })) {
            skipped.insert("a curve that does not lie level");
            return;
        }
        Pen pen(in_world ? Affine{} : plane());
        strokes(pen);
        here().drawn.push_back({getAttributes().getLayer(), pen.take()});
    }
    void round(double x, double y, double radius, double from, double sweep) {
        if (!(radius > 0)) {
            skipped.insert("a circle without a radius");
            return;
        }
        draw(
            {},
            [&](Pen& pen) {
                pen.move({x, y});
                pen.round({x, y}, {radius, 0}, {0, radius}, from, sweep, {x, y});
            },
            false);
    }
    template <class Corners> void quadrangle(const Corners& data) {
        draw(
            {},
            [&](Pen& pen) { // its last two corners stand crosswise
                pen.move({data.x[0], data.y[0]});
                pen.line({data.x[1], data.y[1]});
                pen.line({data.x[3], data.y[3]});
                pen.line({data.x[2], data.y[2]});
                pen.close();
            },
            false);
    }

    void finish_polyline() {
        if (!polyline_) {
            return;
        }
        polyline_ = false;
        const auto corners = std::move(vertices_);
        vertices_.clear();
        const DL_Attributes now = getAttributes();
        setAttributes(polyline_attributes_); // those of the polyline, not of its end
        std::vector<double> heights;
        for (const DL_VertexData& corner : corners) {
            heights.push_back(corner.z);
        }
        draw(
            heights,
            [&](Pen& pen) {
                const size_t count = corners.size();
                for (size_t i = 0; i < count; ++i) {
                    const Point2 from{corners[i].x, corners[i].y};
                    if (i == 0) {
                        pen.move(from);
                    }
                    if (i + 1 == count && !polyline_closed_) {
                        break;
                    }
                    const DL_VertexData& next = corners[(i + 1) % count];
                    bulge(pen, from, {next.x, next.y}, corners[i].bulge);
                }
                if (polyline_closed_) {
                    pen.close();
                }
            },
            false);
        setAttributes(now);
    }

    // A bulge is the tangent of a quarter of the angle that the arc goes through.
    static void bulge(Pen& pen, const Point2& from, const Point2& to, double bulge) {
        const double chord = sketch::distance(from, to);
        if (std::fabs(bulge) < 1e-12 || chord < 1e-12) {
            pen.line(to);
            return;
        }
        const double out = (1 - bulge * bulge) / (4 * bulge); // of the centre from the chord, by the chord
        const Point2 center{(from[0] + to[0]) / 2 - out * (to[1] - from[1]),
                            (from[1] + to[1]) / 2 + out * (to[0] - from[0])};
        const double radius = sketch::distance(center, from);
        const double start = std::atan2(from[1] - center[1], from[0] - center[0]);
        pen.round(center, {radius, 0}, {0, radius}, start, 4 * std::atan(bulge), to);
    }

    void finish_spline() {
        if (!spline_) {
            return;
        }
        const DL_SplineData data = *spline_;
        spline_.reset();
        const auto controls = std::exchange(controls_, {});
        const auto knots = std::exchange(knots_, {});
        const auto fits = std::exchange(fits_, {});
        if (controls.empty() && fits.size() > 1) {
            draw(
                {},
                [&](Pen& pen) {
                    std::vector<Point2> places;
                    for (const Point2& p : fits) { // points that follow each other differ
                        if (places.empty() || sketch::distance(places.back(), p) > 1e-9) {
                            places.push_back(p);
                        }
                    }
                    const bool closed = places.size() > 3 && ((data.flags & 1) != 0 ||
                                                              sketch::distance(places.front(), places.back()) < 1e-9);
                    if (closed && sketch::distance(places.front(), places.back()) < 1e-9) {
                        places.pop_back();
                    }
                    if (places.size() > 1) {
                        const auto through = sketch::spline_through(places, 3, closed);
                        pen.spline(through.segment(through.first(), through.last()));
                    }
                },
                true);
            return;
        }
        DxfSpline spline{data.degree, {}, {}, knots};
        std::vector<double> heights;
        for (const DL_ControlPointData& p : controls) {
            spline.poles.push_back({p.x, p.y});
            spline.weights.push_back(p.w);
            heights.push_back(p.z);
        }
        if (const std::string problem = problem_of(spline); !problem.empty()) {
            skipped.insert(problem);
            return;
        }
        draw(
            heights, [&](Pen& pen) { io::draw(spline, pen); }, true);
    }

    std::string block_;
    bool polyline_ = false;
    bool polyline_closed_ = false;
    DL_Attributes polyline_attributes_;
    std::vector<DL_VertexData> vertices_;
    std::optional<DL_SplineData> spline_;
    std::vector<double> knots_;
    std::vector<DL_ControlPointData> controls_;
    std::vector<Point2> fits_;
};

// Draws blocks where they are inserted.
class Assembler {
public:
    explicit Assembler(Collector& read) : read_(read) {}

    std::vector<sketch::ArtShape> put_together() {
        const double scale = mm_per_dxf_unit(read_.units);
        put(read_.blocks[""], {scale, 0, 0, scale, 0, 0}, "0", 0);
        std::vector<sketch::ArtShape> shapes;
        for (auto& [layer, chains] : layers_) {
            shapes.push_back({layer, sketch::FillRule::none, std::move(chains)});
        }
        return shapes;
    }

private:
    void put(const Collector::Block& block, const Affine& map, const std::string& layer, // NOLINT(misc-no-recursion)
             int depth) {
        for (const auto& drawn : block.drawn) {
            const std::string& own = drawn.layer == "0" ? layer : drawn.layer; // "0" takes the layer of its insert
            if (shown(own)) {
                for (const auto& chain : drawn.chains) {
                    add(chain, map, own);
                }
            }
        }
        for (const auto& placed : block.placed) {
            const std::string& own = placed.layer == "0" ? layer : placed.layer;
            const auto inner = read_.blocks.find(placed.insert.name);
            if (inner == read_.blocks.end() || placed.insert.name.empty()) {
                read_.skipped.insert("a block that is not in the file");
            } else if (depth > most_depth || count_ > most_chains) {
                read_.skipped.insert("more than can be read (it is nested too deep, or too large)");
            } else if (shown(own)) {
                insert(inner->second, placed, map, own, depth);
            }
        }
    }

    void insert(const Collector::Block& block, const Collector::Placed& placed, // NOLINT(misc-no-recursion)
                const Affine& map, const std::string& layer, int depth) {
        const DL_InsertData& data = placed.insert;
        const int columns = std::clamp(data.cols, 1, 1000);
        const int rows = std::clamp(data.rows, 1, 1000);
        const Affine turn = turned(angle_of(data.angle));
        for (int row = 0; row < rows; ++row) {
            for (int column = 0; column < columns && count_ <= most_chains; ++column) {
                ++count_; // empty blocks take time as well
                const Affine at{1, 0, 0, 1, data.ipx, data.ipy};
                const Affine cell{1, 0, 0, 1, column * data.colSp, row * data.rowSp};
                const Affine scale{data.sx, 0, 0, data.sy, -data.sx * block.base[0], -data.sy * block.base[1]};
                put(block, map.after(placed.plane).after(at).after(turn).after(cell).after(scale), layer, depth + 1);
            }
        }
    }

    void add(const std::vector<sketch::Stretch>& chain, const Affine& map, const std::string& layer) {
        if (++count_ > most_chains) {
            read_.skipped.insert("more than can be read (it is nested too deep, or too large)");
            return;
        }
        Pen pen(map);
        pen.trace(chain);
        for (auto& made : pen.take()) {
            const bool near = std::all_of(made.begin(), made.end(), lies_near);
            if (near && !drawn_.insert(likeness_of(made)).second) {
                read_.skipped.insert("an outline that is drawn twice: once is enough");
            } else if (near) {
                layers_[layer].push_back(std::move(made));
            } else {
                read_.skipped.insert("an outline that reaches too far");
            }
        }
    }

    bool shown(const std::string& layer) {
        if (layer == "guides") { // as Kervo calls theirs
            read_.skipped.insert("its guides, which bound nothing");
            return false;
        }
        if (read_.hidden.contains(layer)) {
            read_.skipped.insert("the hidden layer \u201c" + layer + "\u201d");
            return false;
        }
        return true;
    }

    Collector& read_;
    std::map<std::string, std::vector<std::vector<sketch::Stretch>>> layers_;
    std::set<std::vector<long long>> drawn_;
    size_t count_ = 0;
};

} // namespace

Result<sketch::Artwork> read_dxf(const std::string& bytes, Progress& progress) {
    Collector read;
    const auto refuse = [](const std::string& cause) {
        return error_finding("import.unreadable", cause, "Choose another file, or save it as a DXF in words (ASCII).");
    };
    if (bytes.starts_with("AutoCAD Binary DXF")) {
        return refuse("This is a binary DXF file.");
    }
    if (has_overlong_line(bytes)) {
        return refuse("The file has a line that is longer than a line of a DXF drawing may be.");
    }
    ScannedDxf scanned = scan_dxf(bytes);
    ToldStream stream(scanned.text, progress);
    if (!DL_Dxf().in(stream, &read)) {
        return refuse("The file holds no DXF drawing.");
    }
    read.finish_all();
    sketch::Artwork file;
    file.shapes = Assembler(read).put_together();
    join_ends(file.shapes, read.skipped);
    if (read.units == 0) {
        read.skipped.insert("its unit of length: it names none, so millimetres are taken");
    }
    read.skipped.merge(scanned.told);
    file.skipped.assign(read.skipped.begin(), read.skipped.end());
    if (file.shapes.empty()) {
        return refuse("The drawing holds no outlines that can be read" +
                      (file.skipped.empty() ? std::string(".") : "; it has " + file.skipped.front() + "."));
    }
    return file;
}

} // namespace kervo::io
