// The route: a sheet with all steps, read from top to bottom; the open step's card stands in place.
#pragma once

#include "app/field_editors.h"

#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace kervo::app {

/// The open step: its four questions and its findings.
class StepCard : public QFrame {
    Q_OBJECT
public:
    StepCard(const CardContext& context, QWidget* parent);
    void refresh();
    [[nodiscard]] int step() const { return context_.step; }

private:
    void rebuild();
    void show_findings();

    CardContext context_;
    QVBoxLayout* column_;
    QWidget* body_ = nullptr;
    QLineEdit* name_;
    QLabel* findings_;
    std::vector<std::string> asked_; ///< keys of the fields shown
    std::vector<FieldEditor*> editors_;
};

class RoutePanel : public QWidget {
    Q_OBJECT
public:
    RoutePanel(Session& session, Viewport& viewport, const Theme& theme, QWidget* parent = nullptr);
    void set_theme(const Theme& theme);

signals:
    void said(const QString& line);

private:
    void refresh();
    QWidget* row_for(const model::Step& step);
    void open_menu(int step, const QPoint& at);

    Session& session_;
    Viewport& viewport_;
    Theme theme_;
    QLabel* summary_;
    QScrollArea* scroll_;
    QWidget* list_ = nullptr;
    StepCard* card_ = nullptr;
    QWidget* footer_ = nullptr; ///< accept and cancel, always in sight while a card is open
};

} // namespace kervo::app
