#include "app/shell/start_sheet.h"

#include "app/shell/recent.h"

#include <QEvent>
#include <QFile>
#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

namespace {

constexpr QSize picture_size(192, 120);
constexpr int in_a_row = 3;

// A picture with a name below it, as one button.
class PictureButton : public QPushButton {
public:
    PictureButton(const QImage& picture, const QString& name, const Theme& theme, QWidget* parent)
        : QPushButton(parent), picture_(picture), name_(name), theme_(theme) {
        setObjectName("picture");
        setAccessibleName(name);
        setFixedSize(picture_size.width(), picture_size.height() + 26);
    }

protected:
    void paintEvent(QPaintEvent* /*event*/) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        const QRect frame(QPoint(0, 0), picture_size);
        painter.fillRect(frame, theme_.paper);
        painter.drawImage(frame, picture_); // of twice that size
        const bool lit = underMouse() || hasFocus();
        painter.setPen(QPen(lit ? theme_.workpiece : theme_.rule, lit ? 2 : 1));
        painter.drawRect(frame.adjusted(0, 0, -1, -1));
        painter.setPen(theme_.ink);
        const QRect below(2, picture_size.height() + 4, width() - 4, 20);
        painter.drawText(below, Qt::AlignLeft | Qt::AlignVCenter,
                         fontMetrics().elidedText(name_, Qt::ElideRight, below.width()));
    }

private:
    QImage picture_;
    QString name_;
    Theme theme_;
};

struct Demonstration {
    const char* file;
    const char* name;
    const char* shows;
};

constexpr Demonstration demonstrations[] = {
    {"azimuth-table", "Azimuth table",
     "Two plates on a ring: ports and a slot through both, and not through the ring."},
    {"counterweight", "Counterweight", "Turned, with a grip groove and a flat, its edges rounded."},
    {"finder-clamp", "Finder clamp", "Two halves by a blade, guide pins as cutters, scored contact faces."},
    {"spectrograph-housing", "Spectrograph housing", "A hollow body with walls, covers and screw holes."},
    {"sun-screen", "Sun screen", "Hundreds of openings from one row, cut in one go."},
    {"dome", "Dome", "A skin with a shutter slit, a cowl blended on, a hatch plate trimmed by it."},
    {"rain-hood", "Rain hood", "A free-form surface, shaped by its control points, as copper in its bed."},
    {"observing-deck", "Observing deck", "A small building: walls, a deck, doors and windows."},
};

QLabel* title(const QString& text, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setObjectName("question");
    return label;
}

} // namespace

StartSheet::StartSheet(const Session& session, const std::vector<Verb>& verbs, QWidget* over)
    : QWidget(over), session_(session), verbs_(verbs) {
    setObjectName("start");
    over->installEventFilter(this);
    setGeometry(over->rect());
    connect(&session, &Session::changed, this, &StartSheet::refresh);
    hide();
}

void StartSheet::set_theme(const Theme& theme) {
    theme_ = theme;
    if (isVisible()) {
        fill();
    }
    refresh();
}

void StartSheet::refresh() {
    const bool empty = session_.document().steps.empty();
    if (empty && !isVisible()) {
        fill();
    }
    setVisible(empty);
}

void StartSheet::fill() {
    delete content_;
    content_ = new QWidget(this);
    auto* column = new QVBoxLayout(content_);
    column->setContentsMargins(28, 18, 28, 14);
    column->setSpacing(6);
    auto* heading = new QLabel(tr("Begin with"), content_);
    heading->setObjectName("heading");
    column->addWidget(heading);
    add_ways(column);
    add_recent(column);
    add_demonstrations(column);
    auto* foot = new QLabel(tr("Or drop a document or a file of another program here."), content_);
    foot->setObjectName("quiet");
    column->addWidget(foot);
    column->addStretch(1);
    content_->setGeometry(rect());
    content_->show();
}

void StartSheet::add_ways(QVBoxLayout* column) {
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    for (const char* id : {"stock", "sketch", "import", "open"}) {
        const auto verb =
            std::find_if(verbs_.begin(), verbs_.end(), [&](const Verb& each) { return each.id == QLatin1String(id); });
        if (verb == verbs_.end()) {
            continue;
        }
        auto* button = new QPushButton(verb->title + "   " + verb->shortcut, content_);
        button->setObjectName("second");
        button->setToolTip(verb->help);
        button->setAccessibleName(verb->title);
        connect(button, &QPushButton::clicked, this, [this, id] { emit verb_wanted(QLatin1String(id)); });
        row->addWidget(button);
    }
    row->addStretch(1);
    column->addLayout(row);
    column->addSpacing(8);
}

void StartSheet::add_recent(QVBoxLayout* column) {
    auto recent = recent_documents();
    if (recent.empty()) {
        return;
    }
    recent.resize(std::min<size_t>(recent.size(), in_a_row));
    column->addWidget(title(tr("Worked on lately"), content_));
    auto* row = new QHBoxLayout;
    row->setSpacing(12);
    for (const RecentDocument& each : recent) {
        auto* button = new PictureButton(each.picture, each.name(), theme_, content_);
        button->setToolTip(each.path);
        connect(button, &QPushButton::clicked, this, [this, path = each.path] { emit file_wanted(path); });
        row->addWidget(button);
    }
    row->addStretch(1);
    column->addLayout(row);
    column->addSpacing(8);
}

void StartSheet::add_demonstrations(QVBoxLayout* column) {
    column->addWidget(title(tr("Demonstrations: the Tarn Edge Observatory"), content_));
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(12);
    grid->setVerticalSpacing(8);
    int at = 0;
    for (const Demonstration& demonstration : demonstrations) {
        const QString path = QString(":/demo/%1/").arg(demonstration.file);
        auto* button = new PictureButton(QImage(path + (theme_.dark ? "slate.png" : "paper.png")),
                                         tr(demonstration.name), theme_, content_);
        button->setToolTip(tr(demonstration.shows));
        connect(button, &QPushButton::clicked, this, [this, path] {
            QFile file(path + "document.json");
            if (file.open(QFile::ReadOnly)) {
                emit demonstration_wanted(file.readAll());
            }
        });
        grid->addWidget(button, at / in_a_row, at % in_a_row);
        ++at;
    }
    grid->setColumnStretch(in_a_row, 1);
    column->addLayout(grid);
}

bool StartSheet::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::Resize && watched == parentWidget()) {
        setGeometry(parentWidget()->rect());
        if (content_ != nullptr) {
            content_->setGeometry(rect());
        }
    }
    return QWidget::eventFilter(watched, event);
}

void StartSheet::paintEvent(QPaintEvent* /*event*/) {
    QPainter(this).fillRect(rect(), theme_.paper);
}

} // namespace kervo::app
