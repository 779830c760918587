#include "app/cards/point_list.h"
#include "app/view/tools/sketch_tool.h"

#include "app/view/viewport.h"
#include "base/assignment.h"
#include "sketch/solve.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

namespace {

constexpr size_t most_points = 40; // more is not typed

} // namespace

PointList::PointList(Viewport& viewport, QWidget* parent) : QWidget(parent), viewport_(viewport) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    hide();
}

void PointList::refresh() {
    const Drawing& drawing = viewport_.tool<SketchTool>().drawing();
    std::vector<sketch::Curve> splines;
    std::vector<int> points;
    for (const int id : drawing.selected()) {
        const auto* curve = drawing.drawn().curve(id);
        if (curve != nullptr && curve->kind == sketch::CurveKind::spline && !curve->source) {
            splines.push_back(*curve);
        } else if (drawing.drawn().point(id) != nullptr) {
            points.push_back(id);
        }
    }
    const auto alike = [](const sketch::Curve& a, const sketch::Curve& b) {
        return a.id == b.id && a.points == b.points && a.closed == b.closed && a.through == b.through;
    };
    if (!std::equal(splines.begin(), splines.end(), splines_.begin(), splines_.end(), alike) || points != points_ ||
        rows_ == nullptr) {
        splines_ = std::move(splines);
        points_ = std::move(points);
        rebuild();
    }
    for (size_t i = 0; i < degrees_.size(); ++i) {
        degrees_[i]->setCurrentIndex(drawing.drawn().curve(splines_[i].id)->degree - 1);
    }
    for (const Row& row : fields_) {
        const auto place = sketch::place_of(drawing.drawn(), row.point);
        for (size_t axis = 0; axis < 2; ++axis) {
            if (!row.places[axis]->hasFocus() || !row.places[axis]->isModified()) {
                row.places[axis]->setText(QString::fromStdString(format_quantity(place[axis], "mm", 6)));
            }
        }
    }
}

void PointList::rebuild() {
    fields_.clear();
    degrees_.clear();
    if (rows_ != nullptr) {
        rows_->hide();
        rows_->deleteLater();
    }
    rows_ = new QWidget(this);
    auto* column = new QVBoxLayout(rows_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    for (const auto& spline : splines_) {
        add_spline(spline, column);
    }
    if (!points_.empty()) {
        auto* grid = new QGridLayout;
        grid->setSpacing(4);
        column->addLayout(grid);
        for (size_t i = 0; i < std::min(points_.size(), most_points); ++i) {
            add_point(points_[i], tr("point"), false, grid);
        }
    }
    layout()->addWidget(rows_);
    setVisible(!splines_.empty() || !points_.empty());
}

void PointList::add_spline(const sketch::Curve& spline, QVBoxLayout* column) {
    const auto count = static_cast<int>(spline.points.size());
    auto* title = new QLabel(
        (spline.through ? tr("Spline through %1 points") : tr("Spline with %1 control points")).arg(count), rows_);
    title->setObjectName("question");
    column->addWidget(title);
    auto* line = new QHBoxLayout;
    line->addWidget(new QLabel(tr("degree"), rows_));
    auto* degree = new QComboBox(rows_);
    degree->setObjectName("spline_degree");
    degree->setAccessibleName(tr("degree"));
    degree->setToolTip(tr("1 has a corner at each point, 3 is smooth; the higher, the smoother."));
    for (int each = 1; each <= sketch::max_spline_degree; ++each) {
        degree->addItem(QString::number(each));
    }
    degrees_.push_back(degree);
    line->addWidget(degree);
    auto* closed = new QCheckBox(tr("closed"), rows_);
    closed->setToolTip(tr("It runs back to its start, without a corner there."));
    closed->setChecked(spline.closed);
    line->addWidget(closed);
    line->addStretch(1);
    column->addLayout(line);
    connect(degree, &QComboBox::activated, this, [this, id = spline.id, now = spline.closed](int at) {
        take(sketch::change_spline(viewport_.tool<SketchTool>().drawing().drawn(), id, at + 1, now));
    });
    connect(closed, &QCheckBox::clicked, this, [this, id = spline.id, degree](bool on) {
        take(sketch::change_spline(viewport_.tool<SketchTool>().drawing().drawn(), id, degree->currentIndex() + 1, on));
    });
    auto* grid = new QGridLayout;
    grid->setSpacing(4);
    column->addLayout(grid);
    const size_t least = spline.closed ? 3 : 2;
    for (size_t i = 0; i < std::min(spline.points.size(), most_points); ++i) {
        add_point(spline.points[i], QString::number(i + 1), spline.points.size() > least, grid);
    }
    if (spline.points.size() > most_points) {
        column->addWidget(new QLabel(tr("and %1 more, by mouse").arg(spline.points.size() - most_points), rows_));
    }
}

void PointList::add_point(int point, const QString& name, bool removable, QGridLayout* grid) {
    const int at = grid->rowCount();
    auto* label = new QLabel(name, rows_);
    label->setMinimumWidth(34);
    grid->addWidget(label, at, 0);
    Row row{point, {}};
    for (size_t axis = 0; axis < 2; ++axis) {
        auto* field = new QLineEdit(rows_);
        field->setObjectName(QString("point_%1_%2").arg(name, axis == 0 ? "x" : "y"));
        field->setAccessibleName(tr("%1 of point %2").arg(axis == 0 ? tr("x") : tr("y"), name));
        field->setToolTip(axis == 0 ? tr("To the right of the sketch's origin, in mm.")
                                    : tr("Above the sketch's origin, in mm."));
        field->setAlignment(Qt::AlignRight);
        connect(field, &QLineEdit::editingFinished, this, [this, field, point, axis] {
            if (field->isModified()) {
                field->setModified(false);
                move(point, axis, field->text());
            }
        });
        row.places[axis] = field;
        grid->addWidget(field, at, static_cast<int>(axis) + 1);
    }
    if (removable) {
        auto* remove = new QPushButton(QChar(0x00D7), rows_);
        remove->setObjectName("tool");
        remove->setFixedWidth(26);
        remove->setAccessibleName(tr("Take point %1 away").arg(name));
        remove->setToolTip(tr("The spline goes on without this point."));
        connect(remove, &QPushButton::clicked, this, [this, point] {
            sketch::Sketch next = viewport_.tool<SketchTool>().drawing().drawn();
            next.remove(point);
            emit changed(next);
        });
        grid->addWidget(remove, at, 3);
    }
    fields_.push_back(row);
}

// The rest of the sketch follows as it would follow the mouse.
void PointList::move(int point, size_t axis, const QString& text) {
    const ParameterValues values = viewport_.shown().parameters();
    const auto typed = evaluate_as(formula_in(text.trimmed().toStdString()), values, length_dimension);
    if (!typed) {
        emit viewport_.hinted(QString::fromStdString(typed.finding().cause + " " + typed.finding().mend));
        refresh();
        return;
    }
    const sketch::Sketch& drawn = viewport_.tool<SketchTool>().drawing().drawn();
    auto place = sketch::place_of(drawn, point);
    place[axis] = *typed;
    const auto moved = sketch::drag(drawn, values, {{point, place}});
    if (sketch::distance(sketch::place_of(moved, point), place) > 1e-6) {
        emit viewport_.hinted(tr("Constraints hold this point; it went as far as they let it."));
    }
    emit changed(moved);
}

void PointList::take(const sketch::Edited& edited) {
    if (edited.problem) {
        emit viewport_.hinted(QString::fromStdString(edited.problem->cause + " " + edited.problem->mend));
        rebuild();
        refresh();
        return;
    }
    emit changed(edited.sketch);
}

} // namespace kervo::app
