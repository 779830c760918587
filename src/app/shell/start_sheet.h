// What stands in an empty window: how to begin, the documents worked on lately, the demonstrations. Gone with the first
// step.
#pragma once

#include "app/look/theme.h"
#include "app/session/session.h"
#include "app/verbs/verbs.h"

#include <QWidget>

class QVBoxLayout;

namespace kervo::app {

class StartSheet : public QWidget {
    Q_OBJECT
public:
    /// Covers `over`, whose size it keeps. `verbs` are looked up by their ids, now and later.
    StartSheet(const Session& session, const std::vector<Verb>& verbs, QWidget* over);
    void set_theme(const Theme& theme);

signals:
    void verb_wanted(const QString& id);
    void file_wanted(const QString& path);
    /// The text of a demonstration.
    void demonstration_wanted(const QByteArray& text);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    /// Shows or hides itself, as the document wants.
    void refresh();
    void fill();
    void add_ways(QVBoxLayout* column);
    void add_recent(QVBoxLayout* column);
    void add_demonstrations(QVBoxLayout* column);

    const Session& session_;
    const std::vector<Verb>& verbs_;
    Theme theme_;
    QWidget* content_ = nullptr;
};

} // namespace kervo::app
