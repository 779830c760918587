#include "sketch/figures.h"

#include "sketch/lettering.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <numeric>
#include <set>
#include <sstream>

namespace kervo::sketch {

bool operator==(const Figure& a, const Figure& b) {
    const bool same_artwork = a.artwork == b.artwork || (a.artwork && b.artwork && *a.artwork == *b.artwork);
    return same_artwork && a.id == b.id && a.kind == b.kind && a.points == b.points && a.of == b.of &&
           a.size == b.size && a.spacing == b.spacing && a.text == b.text && a.font == b.font && a.align == b.align &&
           a.along == b.along && a.reversed == b.reversed && a.fill == b.fill;
}

std::array<double, 4> Artwork::box() const {
    std::array<double, 4> all{1e300, 1e300, -1e300, -1e300};
    for (const ArtShape& shape : shapes) {
        for (const auto& chain : shape.chains) {
            for (const Stretch& stretch : chain) {
                const auto monotone = monotone_parts(stretch);
                for (const double t : monotone) { // its extremes lie where it turns
                    const Point2 p = stretch.at(t);
                    all = {std::min(all[0], p[0]), std::min(all[1], p[1]), std::max(all[2], p[0]),
                           std::max(all[3], p[1])};
                }
            }
        }
    }
    return all[0] > all[2] ? std::array<double, 4>{} : all;
}

bool FilledOutline::fills(const Point2& place) const {
    switch (fill) {
    case FillRule::nonzero:
        return winding(stretches, place) != 0;
    case FillRule::even_odd:
        return winding(stretches, place) % 2 != 0;
    case FillRule::own:
    case FillRule::none:
        break;
    }
    return true;
}

namespace {

using OutlinesByFigure = std::map<int, std::vector<FilledOutline>>;

constexpr int most_copies = 10000;

// The shortest text that gives the number back, without needless digits of its last binary places.
std::string format_exactly(double value) {
    for (const int digits : {9, 12, 17}) {
        std::ostringstream text;
        text.precision(digits);
        text << value;
        if (std::fabs(std::stod(text.str()) - value) <= 1e-13 * std::fabs(value)) {
            return text.str();
        }
    }
    return std::to_string(value);
}

Finding figure_problem(const Figure& figure, const std::string& cause, const std::string& mend) {
    return error_finding("sketch.figure",
                         "The " + figure_names()[static_cast<size_t>(figure.kind)].second + " " +
                             std::to_string(figure.id) + " " + cause,
                         mend);
}

std::string with_piece(const std::string& piece, size_t number) {
    return piece + (piece.empty() ? "" : ".") + std::to_string(number);
}

// The base line of a text or an artwork: from its first point towards its second.
Similarity base_line(const Sketch& sketch, const Figure& figure) {
    const Point2 start = place_of(sketch, figure.points[0]);
    const Point2 way = place_of(sketch, figure.points[1]);
    const double length = distance(start, way);
    return length < joining_tolerance
               ? Similarity{1, 0, start, false}
               : Similarity{(way[0] - start[0]) / length, (way[1] - start[1]) / length, start, false};
}

// Where along a curve each letter stands: the middle of its foot on the curve, its foot along the tangent.
class CurvedBase {
public:
    CurvedBase(const Stretch& stretch, const Point2& start, bool reversed)
        : path_(reversed ? stretch.reversed() : stretch), length_(path_.length()),
          closed_(path_.closed(joining_tolerance)), start_(path_.part(0, nearest_on(path_, start).first).length()) {}

    /// A frame at `x` mm from the start; a curve with ends goes on straight beyond them.
    [[nodiscard]] Similarity at(double x) const {
        double way = start_ + x;
        if (closed_) {
            way = std::fmod(way, length_);
            way += way < 0 ? length_ : 0;
        }
        const double held = std::clamp(way, 0.0, length_);
        const Motion m = path_.motion(path_.at_length(held));
        const double speed = std::hypot(m.first[0], m.first[1]);
        const Point2 along{m.first[0] / speed, m.first[1] / speed};
        const double beyond = way - held;
        return {along[0], along[1], {m.place[0] + along[0] * beyond, m.place[1] + along[1] * beyond}, false};
    }

private:
    Stretch path_;
    double length_;
    bool closed_;
    double start_;
};

FilledOutline text_outline(const Sketch& sketch, const Figure& figure) {
    FilledOutline outline;
    outline.fill = FillRule::nonzero;
    const auto letters = shape_text(figure.text, figure.font, figure.size.value, figure.spacing.value);
    if (!letters) {
        return outline;
    }
    // Each line is as wide as its last letter reaches, without the space behind it.
    std::map<double, double> width;
    for (const Letter& letter : *letters) {
        width[letter.down] = letter.start + letter.advance - figure.spacing.value;
    }
    const Curve* along = sketch.curve(figure.along);
    std::optional<CurvedBase> curved;
    if (along != nullptr && is_sound(sketch, *along)) {
        curved.emplace(stretch_of(sketch, *along), place_of(sketch, figure.points[0]), figure.reversed);
    }
    const Similarity straight = base_line(sketch, figure);
    size_t number = 0;
    for (const Letter& letter : *letters) {
        ++number;
        const double moved = figure.align == TextAlign::start    ? 0
                             : figure.align == TextAlign::middle ? -width[letter.down] / 2
                                                                 : -width[letter.down];
        const double middle = letter.start + letter.advance / 2;
        size_t piece = 0;
        for (const auto& loop : letter.loops) {
            for (const Stretch& stretch : loop) {
                const double shift = curved ? -middle : moved;
                Stretch put =
                    stretch.placed({1, 0, {shift, 0}, false}).placed(curved ? curved->at(middle + moved) : straight);
                put.curve = figure.id;
                put.piece = with_piece(std::to_string(number), ++piece);
                outline.stretches.push_back(std::move(put));
            }
        }
    }
    return outline;
}

std::vector<FilledOutline> artwork_outlines(const Sketch& sketch, const Figure& figure) {
    std::vector<FilledOutline> outlines;
    const auto box = figure.artwork->box();
    const double width = box[2] - box[0];
    const double scale = width > 0 ? figure.size.value / width : 1;
    Similarity put = base_line(sketch, figure);
    const Similarity to_corner{
        scale, 0, {-scale * box[0], (figure.reversed ? scale * box[3] : -scale * box[1])}, figure.reversed};
    size_t number = 0;
    for (const ArtShape& shape : figure.artwork->shapes) {
        ++number;
        FilledOutline outline;
        outline.fill = figure.fill == FillRule::own ? shape.fill : figure.fill;
        size_t piece = 0;
        for (const auto& chain : shape.chains) {
            for (const Stretch& stretch : chain) {
                Stretch placed = stretch.placed(to_corner).placed(put);
                placed.curve = figure.id;
                placed.piece = with_piece(std::to_string(number), ++piece);
                outline.stretches.push_back(std::move(placed));
            }
            if (outline.fill != FillRule::none && !chain.empty()) { // what is filled is closed by a straight line
                const Point2 last = outline.stretches.back().end;
                const Point2 first = outline.stretches[outline.stretches.size() - chain.size()].start;
                if (distance(first, last) > joining_tolerance) {
                    Stretch closing = line_between(last, first, figure.id);
                    closing.piece = with_piece(std::to_string(number), ++piece);
                    outline.stretches.push_back(std::move(closing));
                }
            }
        }
        outlines.push_back(std::move(outline));
    }
    return outlines;
}

// Where each copy of a ring or row goes, the original left out.
std::vector<Similarity> copies_of(const Sketch& sketch, const Figure& figure) {
    std::vector<Similarity> places;
    const auto count = static_cast<int>(std::lround(figure.size.value));
    const Point2 first = place_of(sketch, figure.points[0]);
    for (int i = 1; i < std::min(count, most_copies + 1); ++i) {
        if (figure.kind == FigureKind::ring) {
            const double step =
                figure.spacing.formula.text.empty() ? 2 * std::numbers::pi / count : figure.spacing.value;
            places.push_back(turned_about(first, step * i));
        } else {
            const Point2 last = place_of(sketch, figure.points[1]);
            places.push_back({1, 0, {(last[0] - first[0]) * i, (last[1] - first[1]) * i}, false});
        }
    }
    return places;
}

// All that the figures draw, by their ids.
OutlinesByFigure outlines_by_figure(const Sketch& sketch) {
    OutlinesByFigure drawn;
    for (const Figure& figure : sketch.figures) { // older ones first
        auto& own = drawn[figure.id];
        if (!(figure.size.value > 0)) {
            continue;
        }
        if (figure.kind == FigureKind::text) {
            own.push_back(text_outline(sketch, figure));
            continue;
        }
        if (figure.kind == FigureKind::artwork) {
            if (figure.artwork) {
                own = artwork_outlines(sketch, figure);
            }
            continue;
        }
        std::vector<FilledOutline> sources;
        for (const int source : figure.of) {
            const Curve* curve = sketch.curve(source);
            if (curve != nullptr && is_sound(sketch, *curve)) {
                sources.push_back({FillRule::none, {stretch_of(sketch, *curve)}});
            } else if (const auto known = drawn.find(source); known != drawn.end()) {
                sources.insert(sources.end(), known->second.begin(), known->second.end());
            }
        }
        size_t number = 0;
        for (const Similarity& place : copies_of(sketch, figure)) {
            ++number;
            for (const FilledOutline& source : sources) {
                FilledOutline copy{source.fill, {}};
                for (const Stretch& stretch : source.stretches) {
                    copy.stretches.push_back(stretch.placed(place));
                    copy.stretches.back().curve = figure.id;
                    copy.stretches.back().piece = std::to_string(number) + "." + stretch.label();
                }
                own.push_back(std::move(copy));
            }
        }
    }
    return drawn;
}

} // namespace

int add_artwork(Sketch& sketch, std::shared_ptr<const Artwork> artwork, const std::string& width,
                const std::optional<Point2>& at, double turn) {
    const auto box = artwork->box();
    Figure figure;
    figure.kind = FigureKind::artwork;
    figure.size.value = box[2] - box[0];
    figure.size.formula.text = width.empty() ? format_exactly(figure.size.value) + " mm" : width;
    const Point2 start = at.value_or(Point2{box[0], box[1]});
    const double reach = std::max(figure.size.value, 1.0);
    figure.points = {sketch.add_point(start[0], start[1]),
                     sketch.add_point(start[0] + reach * std::cos(turn), start[1] + reach * std::sin(turn))};
    figure.artwork = std::move(artwork);
    return sketch.add_figure(std::move(figure));
}

namespace {

constexpr size_t most_pieces = 200000; ///< that the figures of a sketch draw
constexpr size_t most_letters = 10000; ///< of a text

// How many pieces a figure draws at most, told from what it hangs on.
size_t pieces_of(const Sketch& sketch, const Figure& figure, const std::map<int, size_t>& known) {
    if (!(figure.size.value > 0)) {
        return 0;
    }
    if (figure.kind == FigureKind::text) {
        constexpr size_t of_a_letter = 20;
        return of_a_letter * figure.text.size();
    }
    size_t pieces = 0;
    if (figure.kind == FigureKind::artwork) {
        for (const ArtShape& shape : figure.artwork ? figure.artwork->shapes : std::vector<ArtShape>{}) {
            for (const auto& chain : shape.chains) {
                pieces += chain.size() + 1;
            }
        }
        return pieces;
    }
    for (const int source : figure.of) {
        const auto other = known.find(source);
        pieces += other != known.end() ? other->second : sketch.curve(source) != nullptr ? 1 : 0;
    }
    return pieces * static_cast<size_t>(std::lround(figure.size.value) - 1);
}

} // namespace

void size_figures(Sketch& sketch, const ParameterValues& parameters, Findings& findings) {
    std::map<int, size_t> pieces; // by figure, older ones first
    size_t all = 0;
    for (Figure& figure : sketch.figures) {
        const auto number = [&](Number& read, const Dimension& dimension) {
            const auto value = evaluate_as(read.formula.text, parameters, dimension);
            read.value = value ? *value : 0;
            if (!value) {
                findings.push_back(value.finding());
            }
            return static_cast<bool>(value);
        };
        if (!number(figure.size, size_dimension(figure.kind)) ||
            (!figure.spacing.formula.text.empty() && !number(figure.spacing, spacing_dimension(figure.kind)))) {
            continue;
        }
        const bool counts = size_dimension(figure.kind) == plain_number;
        if (counts && (figure.size.value < 1 || figure.size.value > most_copies ||
                       std::fabs(figure.size.value - std::round(figure.size.value)) > 1e-6)) {
            findings.push_back(figure_problem(figure, "repeats a number of times that is no whole number from 1 up.",
                                              "Give it a whole number, at most " + std::to_string(most_copies) + "."));
            figure.size.value = 0;
        } else if (!counts && !(figure.size.value > 0)) {
            findings.push_back(figure_problem(figure, "has no size.", "Give it a size above zero."));
        } else if (figure.kind == FigureKind::text && figure.text.size() > most_letters) {
            findings.push_back(
                figure_problem(figure, "has more than " + std::to_string(most_letters) + " bytes.", "Shorten it."));
            figure.size.value = 0;
        } else if (figure.kind == FigureKind::text) {
            if (const auto letters = shape_text(figure.text, figure.font, figure.size.value); !letters) {
                findings.push_back(letters.finding());
            }
        }
        const size_t own = pieces_of(sketch, figure, pieces);
        if (all + own > most_pieces) {
            Finding much = figure_problem(
                figure, "draws more than there may be: " + std::to_string(most_pieces) + " pieces in all.",
                "Repeat it less often, or draw it in several sketches.");
            much.code = "sketch.too_much";
            findings.push_back(std::move(much));
            figure.size.value = 0;
            continue;
        }
        pieces[figure.id] = own;
        all += own;
    }
}

std::vector<FilledOutline> figure_outlines(const Sketch& sketch) {
    std::vector<FilledOutline> all;
    for (auto& [id, outlines] : outlines_by_figure(sketch)) {
        all.insert(all.end(), std::make_move_iterator(outlines.begin()), std::make_move_iterator(outlines.end()));
    }
    return all;
}

namespace {

// What a figure covers, as outlines that each fill by a rule. Curves without one are filled together, copy by copy:
// what an odd number of them goes around.
void add_areas(const Sketch& sketch, const OutlinesByFigure& drawn, int id, // NOLINT(misc-no-recursion)
               std::vector<FilledOutline>& areas) {
    const Figure* figure = sketch.figure(id);
    const auto own = drawn.find(id);
    if (figure == nullptr || own == drawn.end()) {
        return;
    }
    const bool copies = figure->kind == FigureKind::ring || figure->kind == FigureKind::row;
    std::map<std::string, FilledOutline> loose;
    for (const FilledOutline& outline : own->second) {
        if (outline.fill != FillRule::none) {
            areas.push_back(outline);
            continue;
        }
        for (const Stretch& stretch : outline.stretches) {
            const std::string copy = copies ? stretch.piece.substr(0, stretch.piece.find('.')) : "";
            loose[copy].stretches.push_back(stretch);
        }
    }
    if (copies) {
        for (const int source : figure->of) { // older than the figure
            const Curve* curve = sketch.curve(source);
            if (curve != nullptr && is_sound(sketch, *curve)) {
                loose[""].stretches.push_back(stretch_of(sketch, *curve));
            } else {
                add_areas(sketch, drawn, source, areas);
            }
        }
    }
    for (auto& [copy, outline] : loose) {
        outline.fill = FillRule::even_odd;
        areas.push_back(std::move(outline));
    }
}

} // namespace

std::map<int, std::vector<int>> regions_by_figure(const Sketch& sketch, const std::vector<Region>& regions) {
    std::map<int, std::vector<int>> by_figure;
    const auto drawn = outlines_by_figure(sketch);
    std::vector<int> from_left(regions.size()); // so that an area looks at those alone that lie above it or below
    std::iota(from_left.begin(), from_left.end(), 0);
    const auto x_of = [&](int region) { return regions[static_cast<size_t>(region)].inside[0]; };
    std::sort(from_left.begin(), from_left.end(), [&](int a, int b) { return x_of(a) < x_of(b); });
    for (const Figure& figure : sketch.figures) {
        std::vector<FilledOutline> areas;
        add_areas(sketch, drawn, figure.id, areas);
        std::set<int> covered;
        for (const FilledOutline& area : areas) {
            std::array<double, 4> box{1e300, 1e300, -1e300, -1e300};
            for (const Stretch& stretch : area.stretches) {
                const auto own = stretch.box();
                box = {std::min(box[0], own[0]), std::min(box[1], own[1]), std::max(box[2], own[2]),
                       std::max(box[3], own[3])};
            }
            auto at = std::lower_bound(from_left.begin(), from_left.end(), box[0],
                                       [&](int region, double x) { return x_of(region) < x; });
            for (; at != from_left.end() && x_of(*at) <= box[2]; ++at) {
                const Point2& p = regions[static_cast<size_t>(*at)].inside;
                if (p[1] >= box[1] && p[1] <= box[3] && area.fills(p)) {
                    covered.insert(*at);
                }
            }
        }
        by_figure[figure.id] = {covered.begin(), covered.end()};
    }
    return by_figure;
}

void break_up(Sketch& sketch, int figure) {
    for (const Figure& other : std::vector<Figure>(sketch.figures)) { // what repeats it cannot do without it
        if (std::find(other.of.begin(), other.of.end(), figure) != other.of.end()) {
            break_up(sketch, other.id);
        }
    }
    const auto drawn = outlines_by_figure(sketch);
    if (const auto own = drawn.find(figure); own != drawn.end()) {
        for (const FilledOutline& outline : own->second) {
            add_curves(sketch, outline.stretches);
        }
        sketch.remove(figure);
    }
}

} // namespace kervo::sketch
