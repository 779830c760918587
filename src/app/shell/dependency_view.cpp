#include "app/shell/dependency_view.h"

#include "io/document/graph_svg.h"
#include "io/document/safe_file.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

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
    set_scale(1);
    setAccessibleName(tr("What hangs on what"));
}

void DependencySheet::set_scale(double scale) {
    scale_ = scale;
    setFixedSize((natural_size() * scale_).toSize());
    update();
}

QPoint DependencySheet::place_of(int node) const {
    const auto& [x, y, width, height] = layout_.boxes[static_cast<size_t>(node)];
    return (QPointF(x + width / 2, y + height / 2) * scale_).toPoint();
}

int DependencySheet::node_at(const QPointF& place) const {
    for (size_t i = 0; i < layout_.boxes.size(); ++i) {
        const auto& [x, y, width, height] = layout_.boxes[i];
        if (QRectF(x, y, width, height).contains(place / scale_)) {
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
    update();
}

void DependencySheet::keep_lit(int node) {
    kept_ = node;
    point_at(node);
}

void DependencySheet::mousePressEvent(QMouseEvent* event) {
    last_at_ = event->globalPosition();
    drags_ = false;
}

void DependencySheet::mouseMoveEvent(QMouseEvent* event) {
    constexpr double click_slack = 4;
    if ((event->buttons() & (Qt::LeftButton | Qt::MiddleButton)) == 0) {
        const int node = node_at(event->position());
        point_at(node >= 0 ? node : kept_);
        setCursor(node >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
    } else if (const QPointF by = event->globalPosition() - last_at_; drags_ || by.manhattanLength() > click_slack) {
        drags_ = true;
        last_at_ = event->globalPosition();
        emit dragged(by);
    }
}

void DependencySheet::wheelEvent(QWheelEvent* event) {
    emit zoomed(std::pow(1.0012, event->angleDelta().y()), event->position());
    event->accept();
}

void DependencySheet::leaveEvent(QEvent* /*event*/) {
    point_at(kept_);
}

void DependencySheet::mouseReleaseEvent(QMouseEvent* event) {
    if (const int node = node_at(event->position()); node >= 0 && !drags_) {
        emit clicked(node);
    }
}

void DependencySheet::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme_.paper);
    painter.scale(scale_, scale_);
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
    : QDialog(parent), graph_(model::dependency_graph(session.document())), area_(new QScrollArea(this)),
      sheet_(new DependencySheet(graph_, theme, area_)) {
    setObjectName("framed");
    setWindowTitle(tr("What hangs on what"));
    setAttribute(Qt::WA_DeleteOnClose);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 12, 14, 14);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("What hangs on what"), this);
    title->setObjectName("heading");
    head->addWidget(title);
    head->addSpacing(8);
    auto* words =
        new QLabel(tr("Round: parameters. Square: steps; filled ones hang on none. A click goes there."), this);
    words->setObjectName("quiet");
    head->addWidget(words, 1);
    auto* wanted = new QLineEdit(this);
    wanted->setPlaceholderText(tr("find a step or parameter"));
    wanted->setAccessibleName(tr("Find in the picture"));
    wanted->setToolTip(tr("Lights up what is called so, and what it hangs together with; Enter goes there."));
    wanted->setFixedWidth(180);
    head->addWidget(wanted);
    auto* all = new QPushButton(tr("Fit"), this);
    all->setObjectName("plain");
    all->setAutoDefault(false);
    all->setToolTip(tr("Shows all of it. The wheel zooms, a drag moves."));
    head->addWidget(all);
    auto* keep = new QPushButton(tr("Save as SVG\u2026"), this);
    keep->setObjectName("plain");
    keep->setAutoDefault(false);
    head->addWidget(keep);
    column->addLayout(head);
    area_->setWidget(sheet_);
    area_->setAlignment(Qt::AlignCenter);
    column->addWidget(area_, 1);
    const QSizeF natural = sheet_->natural_size();
    const QSizeF room = (parent == nullptr ? QSize(1180, 720) : parent->size()) - QSize(108, 170);
    const double scale =
        std::clamp(std::min(room.width() / natural.width(), room.height() / natural.height()), 0.5, 1.0);
    resize(((natural * scale).boundedTo(room).toSize() + QSize(48, 90)).expandedTo(QSize(760, 320)));
    const int open = session.card() != 0 ? session.card() : session.as_of();
    const auto at = std::find_if(graph_.nodes.begin(), graph_.nodes.end(),
                                 [&](const model::GraphNode& node) { return open != 0 && node.step == open; });
    begun_at_ = at == graph_.nodes.end() ? -1 : static_cast<int>(at - graph_.nodes.begin());
    sheet_->keep_lit(begun_at_);
    wanted->setFocus();
    connect(keep, &QPushButton::clicked, this, &DependencyView::save);
    connect(all, &QPushButton::clicked, this, &DependencyView::fit);
    connect(wanted, &QLineEdit::textEdited, this, &DependencyView::search);
    connect(wanted, &QLineEdit::returnPressed, this, [this] {
        if (sheet_->pointed_at() >= 0) {
            emit sheet_->clicked(sheet_->pointed_at());
        }
    });
    connect(sheet_, &DependencySheet::zoomed, this, &DependencyView::zoom);
    connect(sheet_, &DependencySheet::dragged, this, [this](const QPointF& by) {
        area_->horizontalScrollBar()->setValue(area_->horizontalScrollBar()->value() - static_cast<int>(by.x()));
        area_->verticalScrollBar()->setValue(area_->verticalScrollBar()->value() - static_cast<int>(by.y()));
    });
    connect(sheet_, &DependencySheet::clicked, this, [this](int node) {
        const model::GraphNode chosen = graph_.nodes[static_cast<size_t>(node)];
        if (chosen.step != 0) {
            emit step_chosen(chosen.step);
        } else {
            emit parameter_chosen(QString::fromStdString(chosen.parameter));
        }
        close();
    });
}

void DependencyView::showEvent(QShowEvent* event) {
    QDialog::showEvent(event);
    fit();
    bring_into_sight(begun_at_);
}

// As large as it is, or as there is room for; never so small that nothing can be read.
void DependencyView::fit() {
    constexpr double least = 0.5;
    const QSizeF natural = sheet_->natural_size();
    const QSizeF room = area_->viewport()->size();
    sheet_->set_scale(
        std::clamp(std::min(room.width() / natural.width(), room.height() / natural.height()), least, 1.0));
}

// The place under the pointer stays there.
void DependencyView::zoom(double factor, const QPointF& at) {
    const double before = sheet_->scale();
    sheet_->set_scale(std::clamp(before * factor, 0.2, 4.0));
    const QPointF moved = at * (sheet_->scale() / before) - at;
    area_->horizontalScrollBar()->setValue(area_->horizontalScrollBar()->value() + static_cast<int>(moved.x()));
    area_->verticalScrollBar()->setValue(area_->verticalScrollBar()->value() + static_cast<int>(moved.y()));
}

void DependencyView::search(const QString& words) {
    int found = begun_at_;
    for (size_t i = graph_.nodes.size(); i > 0 && !words.trimmed().isEmpty(); --i) { // the first of them counts
        const QString name = QString::fromStdString(graph_.nodes[i - 1].text);
        found = name.contains(words.trimmed(), Qt::CaseInsensitive) ? static_cast<int>(i - 1) : found;
    }
    sheet_->keep_lit(found);
    bring_into_sight(found);
}

void DependencyView::bring_into_sight(int node) {
    if (node >= 0) {
        const QPoint at = sheet_->place_of(node);
        area_->ensureVisible(at.x(), at.y(), 120, 60);
    }
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
