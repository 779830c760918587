// "Find a verb": type a part of a name, choose by arrows, run by Enter.
#pragma once

#include "app/verbs/verbs.h"

#include <QFrame>
#include <QLineEdit>
#include <QListWidget>

namespace kervo::app {

class FindVerb : public QFrame {
    Q_OBJECT
public:
    FindVerb(const std::vector<Verb>& verbs, QWidget* parent);
    void open();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill(const QString& typed);
    void run();

    const std::vector<Verb>& verbs_;
    std::vector<const Verb*> found_;
    QLineEdit* typed_;
    QListWidget* list_;
};

} // namespace kervo::app
