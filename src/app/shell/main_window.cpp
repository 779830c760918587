#include "app/shell/main_window.h"

#include "app/shell/dependency_view.h"
#include "app/view/tools/sketch_tool.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QApplication>
#include <QCloseEvent>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QMenu>
#include <QMessageBox>
#include <QPainter>
#include <QScreen>
#include <QShortcut>
#include <QSplitter>

#include <algorithm>

namespace kervo::app {

namespace {

QPixmap mark(const Theme& theme) {
    QPixmap pixmap(22, 20);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme.ink);
    painter.drawPolygon(QPolygonF({{1, 18}, {1, 5}, {9, 2}, {7, 18}})); // a block, cut once
    painter.setBrush(theme.workpiece);
    painter.drawPolygon(QPolygonF({{10, 18}, {12, 2}, {21, 2}, {21, 18}}));
    return pixmap;
}

} // namespace

MainWindow::MainWindow() : theme_(paper_theme()) {
    fit_to_screen();
    setAcceptDrops(true);
    auto* middle = new QWidget(this);
    setCentralWidget(middle);
    auto* column = new QVBoxLayout(middle);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    viewport_ = new Viewport(session_, theme_);
    contents_ = new ContentsPanel(session_, *viewport_, theme_);
    cutaway_ = new CutawayCard(session_, *viewport_, *contents_->tree());
    parameters_ = new ParametersPanel(session_, theme_);
    route_ = new RoutePanel(session_, *viewport_, theme_);
    build_verbs();
    build_bar();
    column->addWidget(bar_);
    notice_ = new NoticeBar(session_, middle);
    column->addWidget(notice_);
    auto* left = new QSplitter(Qt::Vertical);
    left->setObjectName("left");
    left->addWidget(contents_);
    left->addWidget(cutaway_);
    left->addWidget(parameters_);
    left->setSizes({340, 240, 350});
    left->setCollapsible(1, false);
    left->setHandleWidth(1);
    auto* across = new QSplitter(Qt::Horizontal);
    across->setHandleWidth(1);
    across->addWidget(left);
    auto* drawing = new QWidget;
    auto* beside = new QHBoxLayout(drawing);
    beside->setContentsMargins(0, 0, 0, 0);
    beside->setSpacing(0);
    strip_ = new ToolStrip(viewport_->tool<SketchTool>(), viewport_);
    beside->addWidget(strip_);
    beside->addWidget(viewport_, 1);
    across->addWidget(drawing);
    across->addWidget(route_);
    across->setStretchFactor(1, 1);
    across->setSizes({262, 676, 342});
    across->setCollapsible(1, false);
    column->addWidget(across, 1);
    build_status();
    build_sheet();
    find_ = new FindVerb(verbs_, middle);

    connect_all();
    for (const Verb& verb : verbs_) {
        if (!verb.shortcut.isEmpty()) {
            auto* shortcut = new QShortcut(QKeySequence(verb.shortcut), this);
            shortcut->setContext(Qt::WindowShortcut);
            connect(shortcut, &QShortcut::activated, this, [this, id = verb.id] { run_verb(id); });
        }
    }
    qApp->installEventFilter(this);
    set_dark(false);
    session_.start_new();
    viewport_->setFocus();
}

void MainWindow::connect_all() {
    connect(notice_, &NoticeBar::save_elsewhere_wanted, this, [this] { save_file({}); });
    connect(notice_, &NoticeBar::theirs_wanted, this, &MainWindow::open_theirs);
    connect(&session_, &Session::changed, this, &MainWindow::refresh_title);
    connect(&session_, &Session::said, this, &MainWindow::tell);
    connect(&session_, &Session::failed, this, &MainWindow::tell_problem);
    connect(&session_, &Session::pictured, this, &MainWindow::refresh_title);
    connect(&session_, &Session::completed, this, [this] {
        busy_timer_->stop();
        progress_->hide();
        stop_->hide();
        refresh_title();
    });
    connect(&session_, &Session::handed_over, this, [this](const QString& path, const Findings& told) {
        const auto problem =
            std::find_if(told.begin(), told.end(), [](const Finding& each) { return each.severity != Severity::note; });
        if (problem != told.end()) {
            tell_problem(*problem);
            return;
        }
        QString line = tr("Handed over: %1").arg(path);
        for (const Finding& note : told) {
            line += ". " + QString::fromStdString(note.cause);
        }
        tell(line);
    });
    connect(&session_, &Session::progressed, progress_, [this](double fraction) {
        // The bar would draw the whole window at once; with the next frame is soon enough.
        progress_->setUpdatesEnabled(false);
        progress_->setValue(static_cast<int>(fraction * 100));
        progress_->setUpdatesEnabled(true);
    });
    connect(&session_, &Session::work_cancelled, this, [this] {
        progress_->hide();
        stop_->hide();
        tell(tr("Stopped. The picture is that of before; any change takes up the work again."));
    });
    connect(viewport_, &Viewport::hinted, this, &MainWindow::tell);
    connect(viewport_, &Viewport::hovered, this, [this](const QString& what, const QString& place) {
        over_->setText(what);
        where_->setText(place);
    });
    connect(&viewport_->hand(), &InHand::marker_changed, this, &MainWindow::refresh_title);
    connect(&viewport_->hand(), &InHand::target_changed, this, &MainWindow::refresh_title);
}

// As large as is comfortable, but not larger than there is room for with a title bar.
void MainWindow::fit_to_screen() {
    constexpr QSize comfortable(1280, 800);
    constexpr int title_bar = 32;
    const QScreen* on = screen();
    const QRect room = on == nullptr ? QRect(QPoint(0, 0), comfortable) : on->availableGeometry();
    const QSize whole = on == nullptr ? comfortable : on->size();
    // Where the window system says nothing about its bars, the screen itself is all there is.
    const int bars = room.height() < whole.height() ? title_bar : 0;
    resize(comfortable.boundedTo(QSize(room.width(), room.height() - bars)));
}

void MainWindow::build_bar() {
    bar_ = new QWidget(this);
    bar_->setObjectName("bar");
    bar_->setFixedHeight(44);
    auto* row = new QHBoxLayout(bar_);
    row->setContentsMargins(14, 0, 14, 0);
    row->setSpacing(2);
    auto* logo = new QLabel(bar_);
    logo->setObjectName("logo");
    row->addWidget(logo);
    row->addSpacing(8);
    title_ = new QLabel(bar_);
    title_->setObjectName("heading");
    title_->setMinimumWidth(150);
    row->addWidget(title_);
    history_ = new HistoryButtons(session_, bar_);
    row->addWidget(history_);
    row->addSpacing(10);
    for (const BarGroup group : bar_groups()) {
        auto* button = new QPushButton(title_of(group), bar_);
        button->setObjectName("group");
        button->setToolTip(tr("Verbs: %1").arg(title_of(group)));
        connect(button, &QPushButton::clicked, this, [this, button, group] {
            QMenu menu(this);
            menu.setToolTipsVisible(true);
            for (const Verb& verb : verbs_) {
                if (verb.group == group) {
                    QAction* action =
                        menu.addAction(verb.title + (verb.shortcut.isEmpty() ? QString() : "\t" + verb.shortcut));
                    action->setToolTip(verb.help);
                    action->setEnabled(verb.possible());
                    connect(action, &QAction::triggered, this, [this, id = verb.id] { run_verb(id); });
                }
            }
            menu.exec(button->mapToGlobal(QPoint(0, button->height() + 4)));
        });
        row->addWidget(button);
    }
    row->addStretch(1);
    auto* find = new QPushButton(tr("Find a verb      Space"), bar_);
    find->setObjectName("plain");
    find->setToolTip(tr("Everything Kervo can do, by name."));
    connect(find, &QPushButton::clicked, this, [this] { run_verb("find"); });
    row->addWidget(find);
}

void MainWindow::build_status() {
    auto* status = new QWidget(this);
    status->setObjectName("status");
    status->setFixedHeight(28);
    auto* row = new QHBoxLayout(status);
    row->setContentsMargins(14, 0, 14, 0);
    row->setSpacing(14);
    marker_ = new QLabel(status);
    hint_ = new OneLine(status);
    over_ = new QLabel(status);
    where_ = new QLabel(status);
    unit_ = new QLabel(status);
    for (QLabel* label : {static_cast<QLabel*>(hint_), over_, where_, unit_}) {
        label->setProperty("quiet", true);
    }
    hint_->setObjectName("hint");
    progress_ = new QProgressBar(status);
    progress_->setTextVisible(false);
    progress_->setFixedWidth(90);
    progress_->setAccessibleName(tr("Progress"));
    progress_->hide();
    stop_ = new QPushButton(tr("Stop"), status);
    stop_->setObjectName("stop");
    stop_->setToolTip(tr("Stops the work; nothing is lost."));
    stop_->hide();
    findings_ = new QPushButton(status);
    findings_->setToolTip(tr("Opens the next step that has a finding."));
    row->addWidget(marker_);
    row->addWidget(hint_, 1);
    row->addWidget(progress_);
    row->addWidget(stop_);
    row->addWidget(over_);
    row->addWidget(where_);
    row->addWidget(unit_);
    row->addWidget(findings_);
    centralWidget()->layout()->addWidget(status);
    busy_timer_ = new QTimer(this);
    busy_timer_->setSingleShot(true);
    connect(busy_timer_, &QTimer::timeout, this, [this] {
        progress_->setVisible(session_.busy());
        stop_->setVisible(session_.busy());
    });
    const auto show_soon = [this] {
        progress_->setValue(0);
        busy_timer_->start(300); // short work needs no bar
    };
    connect(&session_, &Session::changed, this, show_soon);
    connect(&session_, &Session::reading, this, show_soon);
    connect(stop_, &QPushButton::clicked, &session_, &Session::cancel_work);
    connect(findings_, &QPushButton::clicked, this, [this] {
        const auto& steps = session_.document().steps;
        const int from = session_.card() == 0 ? -1 : session_.document().index_of(session_.card());
        for (size_t i = 1; i <= steps.size(); ++i) {
            const auto& step = steps[(static_cast<size_t>(from + static_cast<int>(i))) % steps.size()];
            const auto* report = session_.report(step->id);
            if (report != nullptr && has_warning(report->findings)) {
                session_.open_card(step->id);
                return;
            }
        }
        tell(tr("No step has a finding."));
    });
}

// The six views unfolded as on a drawing, and two pictorial ones.
void MainWindow::build_sheet() {
    sheet_ = new QWidget(viewport_);
    auto* grid = new QGridLayout(sheet_);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(2);
    const std::tuple<const char*, QString, int, int> views[] = {{"top", tr("Top"), 0, 1},
                                                                {"left", tr("Left"), 1, 0},
                                                                {"front", tr("Front"), 1, 1},
                                                                {"right", tr("Right"), 1, 2},
                                                                {"back", tr("Back"), 1, 3},
                                                                {"under", tr("Under"), 2, 1},
                                                                {"corner", QString::fromUtf8("\u25c7"), 0, 3},
                                                                {"corner_below", QString::fromUtf8("\u25c6"), 2, 3}};
    for (const auto& [id, name, row, at] : views) {
        auto* button = new QPushButton(name, sheet_);
        button->setObjectName("sheet");
        button->setFixedSize(48, 25);
        const auto verb =
            std::find_if(verbs_.begin(), verbs_.end(), [view = QString(id)](const Verb& v) { return v.id == view; });
        button->setToolTip(verb->title);
        button->setAccessibleName(verb->title);
        button->setFocusPolicy(Qt::TabFocus);
        connect(button, &QPushButton::clicked, this, [this, view = QString(id)] { run_verb(view); });
        grid->addWidget(button, row, at);
    }
    sheet_->adjustSize();
    sheet_->show();
    start_ = new StartSheet(session_, verbs_, viewport_);
    connect(start_, &StartSheet::verb_wanted, this, [this](const QString& id) {
        viewport_->setFocus();
        run_verb(id);
    });
    connect(start_, &StartSheet::file_wanted, this, [this](const QString& path) {
        if (keep_changes()) {
            open_file(path);
            viewport_->setFocus();
        }
    });
    connect(start_, &StartSheet::demonstration_wanted, this, [this](const QByteArray& text) {
        if (!keep_changes()) {
            return;
        }
        if (const auto problem = session_.start_with(text)) {
            tell_problem(*problem);
        }
        viewport_->setFocus();
    });
}

bool MainWindow::run_verb(const QString& id) {
    const auto verb = std::find_if(verbs_.begin(), verbs_.end(), [&](const Verb& v) { return v.id == id; });
    if (verb == verbs_.end()) {
        return false;
    }
    if (!verb->possible()) {
        tell(tr("\u201c%1\u201d is not possible now.").arg(verb->title));
        return false;
    }
    verb->run();
    return true;
}

void MainWindow::show_dependencies() {
    auto* view = new DependencyView(session_, theme_, this);
    connect(view, &DependencyView::step_chosen, &session_, &Session::open_card);
    connect(view, &DependencyView::parameter_chosen, parameters_, &ParametersPanel::select);
    connect(view, &DependencyView::told, this, &MainWindow::tell);
    connect(view, &DependencyView::failed, this, &MainWindow::tell_problem);
    view->open();
}

void MainWindow::refresh_title() {
    const QString title = QString::fromStdString(session_.document().title);
    title_->setText(title + (session_.edited() ? tr(" \u00b7 edited") : QString()));
    setWindowTitle(title + tr(" \u2014 Kervo"));
    const bool work = viewport_->hand().marker() == Marker::work;
    const QColor color = work ? theme_.workpiece : theme_.cutter;
    marker_->setText(QString("<span style='color:%1'>%2</span>&nbsp; <b>%3</b>")
                         .arg(color.name(), QString::fromUtf8(work ? "\u25a0" : "\u25e2"),
                              work ? tr("Work marker") : tr("Cutter marker")));
    unit_->setText(QString::fromStdString(session_.document().unit));
    const size_t count = session_.findings().size();
    findings_->setText(count == 0 ? tr("no findings") : count == 1 ? tr("1 finding") : tr("%1 findings").arg(count));
    findings_->setStyleSheet(QString("color: %1").arg((count == 0 ? theme_.quiet : theme_.finding).name()));
}

void MainWindow::tell(const QString& line) {
    hint_->say(line);
}

void MainWindow::tell_problem(const Finding& finding) {
    const QString text = QString::fromStdString(finding.cause + " " + finding.mend);
    tell(text);
    QMessageBox* box =
        new QMessageBox(QMessageBox::NoIcon, tr("Kervo"), QString::fromStdString(finding.cause), QMessageBox::Ok, this);
    box->setInformativeText(QString::fromStdString(finding.mend));
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->open();
}

void MainWindow::set_dark(bool dark) {
    theme_ = dark ? slate_theme() : paper_theme();
    qApp->setStyleSheet(style_sheet(theme_));
    bar_->findChild<QLabel*>("logo")->setPixmap(mark(theme_));
    viewport_->set_theme(theme_);
    start_->set_theme(theme_);
    strip_->set_theme(theme_);
    history_->set_theme(theme_);
    contents_->tree()->set_theme(theme_);
    parameters_->set_theme(theme_);
    route_->set_theme(theme_);
    refresh_title();
}

// Another program may have been at work meanwhile.
void MainWindow::changeEvent(QEvent* event) {
    QMainWindow::changeEvent(event);
    if (event->type() == QEvent::ActivationChange && isActiveWindow()) {
        session_.look_outside();
    }
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (keep_changes()) {
        remember();
        session_.leave();
        event->accept();
    } else {
        event->ignore();
    }
}

// A field that loses the focus hands its answer to the session, so the session must outlive all fields.
MainWindow::~MainWindow() {
    qApp->removeEventFilter(this);
    delete centralWidget();
}

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::Resize && watched == viewport_ && sheet_ != nullptr) {
        sheet_->move(viewport_->width() - sheet_->width() - 12, 12);
    }
    // Plain keys are verbs only where nothing else wants them: Space presses the button that has the focus, letters
    // search in lists and begin to edit tables.
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const QWidget* focus = focusWidget();
        const bool plain = (key->modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) == 0;
        const bool list = qobject_cast<const QAbstractItemView*>(focus) != nullptr ||
                          qobject_cast<const QComboBox*>(focus) != nullptr;
        const bool button = qobject_cast<const QAbstractButton*>(focus) != nullptr;
        if (plain && ((key->key() == Qt::Key_Space && (list || button)) ||
                      (list && !key->text().isEmpty() && key->text()[0].isPrint()))) {
            event->accept();
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::keyPressEvent(QKeyEvent* event) {
    // Escape steps back by one: the tool, the pick, the selection; an open card stays until it is cancelled.
    if (event->key() == Qt::Key_Escape) {
        viewport_->escape();
        viewport_->setFocus();
        return;
    }
    QMainWindow::keyPressEvent(event);
}

} // namespace kervo::app
