// The route: a sheet with all steps, read from top to bottom; the open step's card stands in place.
#pragma once

#include "app/cards/finding_list.h"
#include "app/cards/step_card.h"

#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace kervo::app {

class RoutePanel : public QWidget {
    Q_OBJECT
public:
    RoutePanel(Session& session, Viewport& viewport, const Theme& theme, QWidget* parent = nullptr);
    void set_theme(const Theme& theme);

private:
    void refresh();
    void rebuild(const std::vector<int>& steps, int open);
    void refresh_row(const model::Step& step);
    [[nodiscard]] QString volume(double mm3) const;
    void scroll_to_card();
    void open_menu(int step, const QPoint& at);

    Session& session_;
    Viewport& viewport_;
    Theme theme_;
    QLabel* summary_;
    QScrollArea* scroll_;
    QWidget* list_ = nullptr;
    StepCard* card_ = nullptr;
    std::vector<int> listed_;   ///< steps that have a row or the card, in their order
    bool follow_ = false;       ///< the card was just opened and may still grow
    int open_ = -1;             ///< the one whose card is open
    FindingList* findings_;     ///< of the open card, always in sight
    QWidget* footer_ = nullptr; ///< accept and cancel, always in sight while a card is open
};

} // namespace kervo::app
