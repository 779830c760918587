#include "app/view/tools/region_tool.h"

#include "app/view/ink.h"
#include "app/view/tools/tools.h"

#include <algorithm>

namespace kervo::app {

bool RegionTool::in_use() const {
    return !hand().target() && hand().drawn_step() == 0 && hand().marker() == Marker::cutter && session().card() != 0 &&
           shown().card_sketch() != nullptr;
}

QString RegionTool::hint() const {
    return shown().card_cuts() ? tr("Next pick: a region to cut with, or to leave; Ctrl and a drag frames several")
                               : tr("Next pick: a region to use, or to leave; Ctrl and a drag frames several");
}

bool RegionTool::hover(const Pointer& pointer) {
    const auto sketch = shown().card_sketch();
    const auto place = view().on_sketch(pointer.at);
    int region = -1;
    for (size_t i = 0; place && i < sketch->regions.size(); ++i) {
        region = sketch->regions[i].contains(*place) ? static_cast<int>(i) : region;
    }
    point_at(region);
    return false;
}

void RegionTool::leave() {
    point_at(-1);
}

void RegionTool::point_at(int region) {
    if (region != under_) {
        under_ = region;
        view().repaint_ink();
    }
}

bool RegionTool::click(const Pointer& /*pointer*/) {
    if (under_ < 0) {
        return false;
    }
    emit region_clicked(under_);
    return true;
}

void RegionTool::take_framed(const Frame& frame) {
    const auto sketch = shown().card_sketch();
    std::vector<int> found;
    for (size_t i = 0; sketch && i < sketch->regions.size(); ++i) {
        if (frame.takes(region_path(view(), sketch->plane(), sketch->regions[i]), true)) {
            found.push_back(static_cast<int>(i));
        }
    }
    if (!found.empty()) {
        emit regions_framed(found);
    }
}

// --- Ink ------------------------------------------------------------------------------------------------------------

void RegionTool::paint(QPainter& painter) {
    if (session().card() != 0 && hand().drawn_step() == 0 && shown().card_sketch()) {
        paint_regions(painter);
    }
    paint_frame(painter);
}

void RegionTool::paint_elsewhere(QPainter& painter, const model::SketchResult& sketch,
                                 const std::vector<int>& regions) {
    QColor fill = theme().cutter;
    fill.setAlphaF(0.12F);
    painter.setBrush(fill);
    painter.setPen(QPen(theme().cutter, 1.4));
    for (const int region : regions) {
        painter.drawPath(region_path(view(), sketch.plane(), sketch.regions[static_cast<size_t>(region)]));
    }
}

void RegionTool::paint_regions(QPainter& painter) {
    const auto sketch = shown().card_sketch();
    const auto step = shown().card_step();
    std::set<int> chosen;
    for (const auto& field : model::fields_of(step->definition)) {
        const auto* references = std::get_if<model::RegionReferences>(&field.value);
        for (const auto& reference : references != nullptr ? *references : model::RegionReferences{}) {
            const int of = reference.sketch != 0 ? reference.sketch : model::sketch_of(step->definition);
            if (of == shown().card_sketch_step()) {
                const auto meant = sketch->meant_by(reference);
                chosen.insert(meant.begin(), meant.end());
            } else if (const auto other = session().picture()->evaluation->sketches.find(of);
                       other != session().picture()->evaluation->sketches.end()) {
                paint_elsewhere(painter, *other->second, other->second->meant_by(reference));
            }
        }
    }
    for (size_t i = 0; i < sketch->regions.size(); ++i) {
        const QPainterPath path = region_path(view(), sketch->plane(), sketch->regions[i]);
        const bool taken = chosen.contains(static_cast<int>(i));
        const bool under = under_ == static_cast<int>(i);
        QColor fill = theme().cutter;
        fill.setAlphaF(taken ? (under ? 0.34F : 0.2F) : under ? 0.16F : 0.05F);
        painter.setBrush(fill);
        const double room = path.boundingRect().width() / 12; // thousands of small ones must not become one dark field
        painter.setPen(QPen(theme().cutter, std::clamp(room, 0.4, taken ? 2 : 1.2)));
        painter.drawPath(path);
    }
    painter.setBrush(Qt::NoBrush);
}

std::unique_ptr<ViewTool> make_region_tool(Viewport& view) {
    return std::make_unique<RegionTool>(view);
}

} // namespace kervo::app
