#include "app/contents/contents_panel.h"

#include "app/look/counted.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

namespace kervo::app {

ContentsPanel::ContentsPanel(Session& session, Viewport& viewport, const Theme& theme, QWidget* parent)
    : QWidget(parent), session_(session), viewport_(viewport) {
    setObjectName("side");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 10, 6, 8);
    column->setSpacing(4);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Contents"), this);
    title->setObjectName("heading");
    unit_ = new QLabel(this);
    unit_->setObjectName("quiet");
    head->addWidget(title, 1);
    head->addWidget(unit_);
    head->addSpacing(8);
    column->addLayout(head);
    tree_ = new ContentsTree(session_, viewport_, theme, this);
    column->addWidget(tree_, 1);

    connect(&session_, &Session::pictured, this, &ContentsPanel::refresh);
    refresh();
}

void ContentsPanel::refresh() {
    unit_->setText(volume_unit(session_.document().unit));
}

} // namespace kervo::app
