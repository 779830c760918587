// What is selected in a sketch, by number: where its points lie, and of splines the degree and each of their points.
#pragma once

#include "sketch/edit.h"

#include <QComboBox>
#include <QLineEdit>
#include <QWidget>

#include <array>

class QGridLayout;
class QVBoxLayout;

namespace kervo::app {

class Viewport;

class PointList : public QWidget {
    Q_OBJECT
public:
    PointList(Viewport& viewport, QWidget* parent);
    /// Shows what is selected now; does not disturb what is being typed.
    void refresh();

signals:
    void changed(const kervo::sketch::Sketch& drawing);

private:
    void rebuild();
    void add_spline(const sketch::Curve& spline, QVBoxLayout* column);
    void add_point(int point, const QString& name, bool removable, QGridLayout* grid);
    void move(int point, size_t axis, const QString& text);
    void take(const sketch::Edited& edited);

    Viewport& viewport_;
    QWidget* rows_ = nullptr;
    std::vector<sketch::Curve> splines_; ///< as listed
    std::vector<int> points_;
    struct Row {
        int point;
        std::array<QLineEdit*, 2> places;
    };
    std::vector<Row> fields_;
    std::vector<QComboBox*> degrees_; ///< of `splines_`
};

} // namespace kervo::app
