#include "app/view/tools/piece_tool.h"

#include "app/view/ink.h"
#include "app/view/tools/tools.h"
#include <limits>

namespace kervo::app {

namespace {

// A body less its plugs is clicked as a body.
bool can_be_clicked(const model::Piece& piece) {
    return piece.by_sides || !piece.identity.inside.empty();
}

QPolygonF polyline_of(const Viewport& view, const scene::Polyline3& line) {
    QPolygonF seen;
    for (const Point3& p : line) {
        seen << view.place_of(p);
    }
    return seen;
}

} // namespace

bool PieceTool::in_use() const {
    return !hand().target() && shown().card_cuts();
}

QString PieceTool::hint() const {
    return hand().marker() == Marker::work
               ? tr("Next pick: a body to cut or to spare, or a piece to keep or to drop; C: what cuts")
               : tr("Next pick: a body or a blade to cut with, or to leave; W: what is cut");
}

// Of curves the one whose line passes nearest, unless what is at `depth` hides it.
int PieceTool::curve_at(const Line3& ray, double depth) const {
    constexpr double reach_in_pixels = 6;
    const double reach = reach_in_pixels / view().pixels_per_mm();
    const auto output = shown().card_output();
    const auto& lines = session().picture()->pieces;
    double least = reach;
    int nearest = -1;
    for (size_t i = 0; i < lines.size(); ++i) {
        if (!lines[i].curves || !can_be_clicked(output->pieces[i])) {
            continue;
        }
        for (const auto& near :
             lines[i].tree->near(ray, reach, -std::numeric_limits<double>::infinity(), depth + reach)) {
            if (!near.vertex && near.away < least) {
                least = near.away;
                nearest = static_cast<int>(i);
            }
        }
    }
    return nearest;
}

int PieceTool::piece_at(const QPointF& at) const {
    const auto output = shown().card_output();
    if (!output || hand().marker() != Marker::work || !view().sees()) {
        return -1;
    }
    const auto& lines = session().picture()->pieces;
    const Line3 ray = view().ray(at);
    int nearest = -1;
    double depth = std::numeric_limits<double>::infinity();
    for (size_t i = 0; i < lines.size(); ++i) {
        const model::Piece& piece = output->pieces[i];
        const auto part = lines[i].box.part_of(ray);
        if (!can_be_clicked(piece) || part[0] > std::min(part[1], depth)) {
            continue;
        }
        const auto hit = lines[i].tree->first_face(ray, -std::numeric_limits<double>::infinity(), depth);
        if (hit && hit->at < depth) {
            depth = hit->at;
            nearest = static_cast<int>(i);
        }
    }
    if (const int curve = curve_at(ray, depth); curve >= 0) {
        return curve;
    }
    // A body that has no part in the cut hides what lies behind it.
    const auto& hovered = view().under_pointer();
    if (nearest >= 0 && hovered && !shown().is_ghost(hovered->body) &&
        model::maker_of(hovered->body) != session().card()) {
        const bool other = std::none_of(output->pieces.begin(), output->pieces.end(), [&](const model::Piece& piece) {
            return piece.identity.workpiece == hovered->body;
        });
        if (other && ray.foot(hovered->point) < depth) {
            return -1;
        }
    }
    return nearest;
}

bool PieceTool::hover(const Pointer& pointer) {
    point_at(piece_at(pointer.at));
    return false;
}

void PieceTool::leave() {
    point_at(-1);
}

void PieceTool::point_at(int piece) {
    if (piece != under_) {
        under_ = piece;
        point_out(piece);
        emit piece_hovered(piece);
    }
}

void PieceTool::point_out(int piece) {
    if (pointed_out_ != piece) {
        pointed_out_ = piece;
        view().repaint_ink();
    }
}

bool PieceTool::click(const Pointer& /*pointer*/) {
    if (under_ >= 0) {
        emit piece_clicked(under_);
        return true;
    }
    const auto& hovered = view().under_pointer();
    if (hovered && (hand().marker() == Marker::cutter || !shown().is_ghost(hovered->body))) {
        emit body_clicked(shown().clicked_id(hovered->body));
    }
    return hovered.has_value();
}

bool PieceTool::click_body(const model::BodyId& body, const Pointer& /*pointer*/) {
    emit body_clicked(body);
    return true;
}

// Pieces by their edges as they are seen.
void PieceTool::take_framed(const Frame& frame) {
    const auto output = shown().card_output();
    if (!output) {
        return;
    }
    const auto& lines = session().picture()->pieces;
    std::vector<int> found;
    for (size_t i = 0; i < lines.size(); ++i) {
        std::vector<QPolygonF> chains;
        for (const auto& edge : lines[i].edges) {
            chains.push_back(polyline_of(view(), edge));
        }
        if (can_be_clicked(output->pieces[i]) && frame.takes(chains)) {
            found.push_back(static_cast<int>(i));
        }
    }
    if (!found.empty()) {
        emit pieces_framed(found);
    }
}

// --- Ink ------------------------------------------------------------------------------------------------------------

double PieceTool::seen_size(const Box3& box) const {
    return box.empty() ? 0 : QLineF(place_of(box.low), place_of(box.high)).length();
}

void PieceTool::paint(QPainter& painter) {
    const bool put_aside = session().card() == 0 || hand().target() || hand().drawn_step() != 0;
    const auto output = put_aside ? nullptr : shown().card_output();
    if (output) {
        const auto& lines = session().picture()->pieces;
        for (size_t i = 0; i < std::min(output->pieces.size(), lines.size()); ++i) {
            const bool pointed_out = pointed_out_ == static_cast<int>(i);
            if (output->pieces[i].verdict != model::Verdict::stays || pointed_out) {
                paint_piece(painter, output->pieces[i], lines[i], pointed_out);
            }
        }
    }
    paint_frame(painter);
}

void PieceTool::paint_piece(QPainter& painter, const model::Piece& piece, const scene::PieceLines& lines,
                            bool pointed_out) {
    const bool goes = piece.verdict == model::Verdict::goes;
    const QColor color = piece.verdict == model::Verdict::apart ? theme().apart : theme().ink;
    QColor light = color;
    light.setAlphaF(pointed_out ? 0.7F : 0.38F);
    painter.setPen(QPen(light, 0.9));
    const bool small = seen_size(lines.box) < 24;
    if (goes && !small) {
        for (const auto& line : lines.hatch) {
            painter.drawLine(place_of(line[0]), place_of(line[1]));
        }
    }
    painter.setPen(small && !pointed_out ? QPen(light, 0.6)
                   : goes                ? phantom(color, pointed_out ? 2.4 : 1.3)
                                         : QPen(color, pointed_out ? 2.4 : 1.6));
    for (const auto& line : lines.edges) {
        painter.drawPolyline(polyline_of(view(), line));
    }
}

std::unique_ptr<ViewTool> make_piece_tool(Viewport& view) {
    return std::make_unique<PieceTool>(view);
}

} // namespace kervo::app
