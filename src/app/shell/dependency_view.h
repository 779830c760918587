// What hangs on what: parameters and steps as a picture, to be looked through, clicked and saved.
#pragma once

#include "app/session/session.h"
#include "app/shell/theme.h"
#include "model/dependency_graph.h"

#include <QDialog>

#include <set>

namespace kervo::app {

/// The picture itself. What is under the pointer shows what it hangs on and what hangs on it.
class DependencySheet : public QWidget {
    Q_OBJECT
public:
    DependencySheet(const model::DependencyGraph& graph, const Theme& theme, QWidget* parent);
    /// The middle of a node's box.
    [[nodiscard]] QPoint place_of(int node) const;
    [[nodiscard]] const model::DependencyGraph& graph() const { return graph_; }

signals:
    void clicked(int node);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    [[nodiscard]] int node_at(const QPointF& place) const;
    void point_at(int node);

    model::DependencyGraph graph_;
    model::GraphLayout layout_;
    Theme theme_;
    int pointed_ = -1;
    std::set<int> behind_, ahead_;
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

private:
    void save();
    model::DependencyGraph graph_;
};

} // namespace kervo::app
