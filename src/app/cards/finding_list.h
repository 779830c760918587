// What is wrong with the open step, with a button for each mend that is offered. It stands below the route, so that it
// is in sight wherever the card is scrolled to, and moves no answer when it comes and goes.
#pragma once

#include "app/cards/field_editors.h"

#include <QScrollArea>

namespace kervo::app {

class FindingList : public QScrollArea {
    Q_OBJECT
public:
    explicit FindingList(QWidget* parent);
    /// Those of the card's step; its places are pointed out in the model. Hidden where there are none.
    void refresh(const CardContext& context);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void tell(const CardContext& context, const Findings& findings);
    void show_offers(const CardContext& context, const std::vector<Offer>& offers);
    void fit();

    QWidget* content_;
    std::vector<Finding> told_;
    bool sortable_ = false; ///< the offer to sort would change something
    bool making_ = false;   ///< a step that is being made
    std::vector<QWidget*> lines_;
    int step_ = 0; ///< that they are of
};

} // namespace kervo::app
