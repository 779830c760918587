// What hangs on what: parameters and steps as a picture, to be looked through, clicked and saved.
#pragma once

#include "app/look/theme.h"
#include "app/session/session.h"
#include "model/route/dependency_graph.h"

#include <QDialog>
#include <QScrollArea>

#include <set>

namespace kervo::app {

/// The picture itself. What is under the pointer shows what it hangs on and what hangs on it.
class DependencySheet : public QWidget {
    Q_OBJECT
public:
    DependencySheet(const model::DependencyGraph& graph, const Theme& theme, QWidget* parent);
    /// The middle of a node's box.
    [[nodiscard]] QPoint place_of(int node) const;
    /// How large it is without any scale.
    [[nodiscard]] QSizeF natural_size() const { return {layout_.width + 1, layout_.height + 1}; }
    [[nodiscard]] double scale() const { return scale_; }
    void set_scale(double scale);
    /// Lights up a node and what it hangs together with; -1: none.
    void point_at(int node);
    [[nodiscard]] int pointed_at() const { return pointed_; }
    /// What stays lit while the pointer is over nothing.
    void keep_lit(int node);
    [[nodiscard]] const model::DependencyGraph& graph() const { return graph_; }

signals:
    void clicked(int node);
    void zoomed(double factor, const QPointF& at);
    void dragged(const QPointF& by);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    [[nodiscard]] int node_at(const QPointF& place) const;

    model::DependencyGraph graph_;
    model::GraphLayout layout_;
    Theme theme_;
    double scale_ = 1;
    int pointed_ = -1;
    int kept_ = -1;
    std::set<int> behind_, ahead_;
    QPointF last_at_; ///< on the screen
    bool drags_ = false;
};

class DependencyView : public QDialog {
    Q_OBJECT
public:
    DependencyView(Session& session, const Theme& theme, QWidget* parent);

signals:
    void step_chosen(int step);
    void parameter_chosen(const QString& name);
    void told(const QString& line);
    void failed(const kervo::Finding& problem);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void save();
    void fit();
    void zoom(double factor, const QPointF& at);
    void search(const QString& words);
    void bring_into_sight(int node);

    model::DependencyGraph graph_;
    QScrollArea* area_;
    DependencySheet* sheet_;
    int begun_at_; ///< the open step; -1: none
};

} // namespace kervo::app
