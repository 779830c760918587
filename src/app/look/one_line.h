// A label of one line that takes the room that there is, and shows as much of its text as fits; the tool tip has all.
#pragma once

#include <QLabel>

namespace kervo::app {

class OneLine : public QLabel {
public:
    explicit OneLine(QWidget* parent) : QLabel(parent) {
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred); // a longer text moves nothing
    }
    void say(const QString& line) {
        line_ = line;
        setToolTip(line);
        fit();
    }

protected:
    void resizeEvent(QResizeEvent* event) override {
        QLabel::resizeEvent(event);
        fit();
    }

private:
    void fit() { setText(fontMetrics().elidedText(line_, Qt::ElideRight, width())); }

    QString line_;
};

} // namespace kervo::app
