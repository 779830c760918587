#include "app/shell/dependency_view.h"

#include "io/graph_svg.h"
#include "io/safe_file.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

namespace {

QPainterPath path_of(const std::vector<std::array<double, 2>>& route) {
    QPainterPath path(QPointF(route[0][0], route[0][1]));
    for (size_t i = 1; i < route.size(); ++i) {
        const QPointF a(route[i - 1][0], route[i - 1][1]);
        const QPointF b(route[i][0], route[i][1]);
        const double middle = (a.x() + b.x()) / 2;
        path.cubicTo(QPointF(middle, a.y()), QPointF(middle, b.y()), b);
    }
    return path;
}

} // namespace

DependencySheet::DependencySheet(const model::DependencyGraph& graph, const Theme& theme, QWidget* parent)
    : QWidget(parent), graph_(graph), layout_(model::lay_out(graph)), theme_(theme) {
    setMouseTracking(true);
    setFixedSize(static_cast<int>(layout_.width) + 1, static_cast<int>(layout_.height) + 1);
    setAccessibleName(tr("What hangs on what"));
}

QPoint DependencySheet::place_of(int node) const {
    const auto& [x, y, width, height] = layout_.boxes[static_cast<size_t>(node)];
    return QPointF(x + width / 2, y + height / 2).toPoint();
}

int DependencySheet::node_at(const QPointF& place) const {
    for (size_t i = 0; i < layout_.boxes.size(); ++i) {
        const auto& [x, y, width, height] = layout_.boxes[i];
        if (QRectF(x, y, width, height).contains(place)) {
            return static_cast<int>(i);
        }
    }
    return -1;
}

void DependencySheet::point_at(int node) {
    if (node == pointed_) {
        return;
    }
    pointed_ = node;
    behind_.clear();
    ahead_.clear();
    if (node >= 0) {
        const auto behind = graph_.behind(node);
        const auto ahead = graph_.ahead(node);
        behind_.insert(behind.begin(), behind.end());
        ahead_.insert(ahead.begin(), ahead.end());
    }
    setCursor(node >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
    update();
}

void DependencySheet::mouseMoveEvent(QMouseEvent* event) {
    point_at(node_at(event->position()));
}

void DependencySheet::leaveEvent(QEvent* /*event*/) {
    point_at(-1);
}

void DependencySheet::mouseReleaseEvent(QMouseEvent* event) {
    if (const int node = node_at(event->position()); node >= 0) {
        emit clicked(node);
    }
}

void DependencySheet::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme_.paper);
    const auto lit = [this](int from, int to) { // along the ways to and from what is pointed at
        const bool before = (behind_.contains(from) || from == pointed_) && (behind_.contains(to) || to == pointed_);
        const bool after = (ahead_.contains(from) || from == pointed_) && (ahead_.contains(to) || to == pointed_);
        return before ? 1 : after ? 2 : 0;
    };
    QColor faint = theme_.quiet;
    faint.setAlphaF(pointed_ < 0 ? 0.6F : 0.25F);
    for (const bool bright : {false, true}) {
        for (size_t i = 0; i < graph_.edges.size(); ++i) {
            const int light = pointed_ < 0 ? 0 : lit(graph_.edges[i].first, graph_.edges[i].second);
            if ((light != 0) == bright) {
                painter.setPen(QPen(light == 1   ? theme_.cutter
                                    : light == 2 ? theme_.workpiece
                                                 : faint,
                                    light == 0 ? 1.0 : 1.8));
                painter.drawPath(path_of(layout_.routes[i]));
            }
        }
    }
    painter.setFont(interface_font(12));
    for (size_t i = 0; i < graph_.nodes.size(); ++i) {
        const auto& node = graph_.nodes[i];
        const auto& [x, y, width, height] = layout_.boxes[i];
        const int index = static_cast<int>(i);
        const bool quiet = pointed_ >= 0 && index != pointed_ && !behind_.contains(index) && !ahead_.contains(index);
        const QColor ink = quiet ? theme_.quiet : theme_.ink;
        QPen pen(index == pointed_ || !quiet ? (node.step == 0 ? theme_.cutter : theme_.ink) : theme_.rule,
                 index == pointed_ ? 2 : 1);
        if (node.suspended) {
            pen.setStyle(Qt::DashLine);
        }
        painter.setPen(pen);
        painter.setBrush(node.frozen ? theme_.rule : theme_.panel);
        const double round = node.step == 0 ? height / 2 : 3;
        painter.drawRoundedRect(QRectF(x, y, width, height), round, round);
        painter.setPen(ink);
        painter.drawText(QRectF(x, y, width, height), Qt::AlignCenter, QString::fromStdString(node.text));
    }
}

DependencyView::DependencyView(Session& session, const Theme& theme, QWidget* parent)
    : QDialog(parent), graph_(model::dependency_graph(session.document())) {
    setWindowTitle(tr("What hangs on what"));
    setAttribute(Qt::WA_DeleteOnClose);
    auto* column = new QVBoxLayout(this);
    auto* head = new QHBoxLayout;
    auto* words = new QLabel(
        tr("Round: parameters. Square: steps; filled ones hang on no parameter. Click one to go there."), this);
    words->setObjectName("quiet");
    head->addWidget(words, 1);
    auto* keep = new QPushButton(tr("Save as SVG\u2026"), this);
    keep->setObjectName("plain");
    connect(keep, &QPushButton::clicked, this, &DependencyView::save);
    head->addWidget(keep);
    column->addLayout(head);
    auto* area = new QScrollArea(this);
    auto* sheet = new DependencySheet(graph_, theme, area);
    area->setWidget(sheet);
    area->setAlignment(Qt::AlignCenter);
    column->addWidget(area, 1);
    resize(std::clamp(sheet->width() + 60, 480, 1180), std::clamp(sheet->height() + 110, 320, 720));
    connect(sheet, &DependencySheet::clicked, this, [this](int node) {
        const model::GraphNode chosen = graph_.nodes[static_cast<size_t>(node)];
        if (chosen.step != 0) {
            emit step_chosen(chosen.step);
        } else {
            emit parameter_chosen(QString::fromStdString(chosen.parameter));
        }
        close();
    });
}

void DependencyView::save() {
    const QString path =
        QFileDialog::getSaveFileName(parentWidget(), tr("Save the picture"), "dependencies.svg", tr("SVG (*.svg)"));
    if (path.isEmpty()) {
        return;
    }
    const auto problem =
        io::write_text_atomically(path.toStdString(), io::graph_to_svg(graph_, model::lay_out(graph_)));
    if (problem) {
        emit failed(*problem);
    } else {
        emit told(tr("Written: %1").arg(path));
    }
}

} // namespace kervo::app
