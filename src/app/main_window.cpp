#include "app/main_window.h"

#include <QApplication>
#include <QBuffer>
#include <QCloseEvent>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QMenu>
#include <QMessageBox>
#include <QPainter>
#include <QShortcut>
#include <QSplitter>

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
    resize(1280, 800);
    auto* middle = new QWidget(this);
    setCentralWidget(middle);
    auto* column = new QVBoxLayout(middle);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    viewport_ = new Viewport(session_, theme_);
    contents_ = new ContentsPanel(session_, *viewport_, theme_);
    parameters_ = new ParametersPanel(session_, theme_);
    route_ = new RoutePanel(session_, *viewport_, theme_);
    build_verbs();
    build_bar();
    column->addWidget(bar_);
    auto* left = new QSplitter(Qt::Vertical);
    left->setObjectName("left");
    left->addWidget(contents_);
    left->addWidget(parameters_);
    left->setSizes({270, 420});
    left->setHandleWidth(1);
    auto* across = new QSplitter(Qt::Horizontal);
    across->setHandleWidth(1);
    across->addWidget(left);
    across->addWidget(viewport_);
    across->addWidget(route_);
    across->setStretchFactor(1, 1);
    across->setSizes({262, 676, 342});
    across->setCollapsible(1, false);
    column->addWidget(across, 1);
    build_status();
    build_sheet();
    find_ = new FindVerb(verbs_, middle);

    connect(&session_, &Session::changed, this, &MainWindow::refresh_title);
    connect(&session_, &Session::said, this, &MainWindow::tell);
    connect(&session_, &Session::pictured, this, &MainWindow::refresh_title);
    connect(&session_, &Session::completed, this, [this] {
        busy_timer_->stop();
        progress_->hide();
        stop_->hide();
        refresh_title();
    });
    connect(&session_, &Session::handed_over, this, [this](const QString& path, const std::optional<Finding>& problem) {
        problem ? tell_problem(*problem) : tell(tr("Handed over: %1").arg(path));
    });
    connect(&session_, &Session::progressed, progress_,
            [this](double fraction) { progress_->setValue(static_cast<int>(fraction * 100)); });
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
    connect(viewport_, &Viewport::marker_changed, this, &MainWindow::refresh_title);
    for (const Verb& verb : verbs_) {
        if (!verb.shortcut.isEmpty()) {
            auto* shortcut = new QShortcut(QKeySequence(verb.shortcut), this);
            shortcut->setContext(Qt::WindowShortcut);
            connect(shortcut, &QShortcut::activated, this, [this, id = verb.id] { run_verb(id); });
        }
    }
    set_dark(false);
    session_.start_new();
    viewport_->setFocus();
}

void MainWindow::build_verbs() {
    const auto has_document = [this] { return !session_.document().steps.empty(); };
    const auto card_open = [this] { return session_.card() != 0; };
    const auto cutting = [this] { return session_.cutaway().has_value(); };
    const auto draws = [this] { return viewport_->draws(); };
    const auto look = [this](scene::LookFrom from) { return [this, from] { viewport_->look_from(from); }; };
    const auto tool = [this](DrawTool which) {
        return [this, which] {
            viewport_->set_draw_tool(which);
            viewport_->setFocus();
        };
    };
    const QString bring = tr("Bring in"), draw = tr("Draw"), cut = tr("Cut"), join = tr("Join"),
                  inside = tr("Look inside"), check = tr("Check"), hand = tr("Hand over");
    verbs_ = {
        {"new", bring, tr("New document"), tr("Starts an empty document."), "Ctrl+N",
         [this] {
             if (keep_changes()) {
                 session_.start_new();
             }
         }},
        {"open", bring, tr("Open\u2026"), tr("Opens a Kervo document."), "Ctrl+O",
         [this] {
             if (!keep_changes()) {
                 return;
             }
             const QString path =
                 QFileDialog::getOpenFileName(this, tr("Open"), {}, tr("Kervo documents (*.kervo *.json)"));
             if (!path.isEmpty()) {
                 open_file(path);
             }
         }},
        {"stock", bring, tr("Stock"), tr("Makes a box, cylinder, sphere or cone by number."), "S",
         [this] { start_step("stock"); }},
        {"import", bring, tr("Import\u2026"), tr("Brings in bodies from a STEP or BREP file."), "I",
         [this] {
             const QString path =
                 QFileDialog::getOpenFileName(this, tr("Import"), {}, tr("Exact bodies (*.step *.stp *.brep *.brp)"));
             if (!path.isEmpty()) {
                 import_file(path);
             }
         }},
        {"sketch", draw, tr("Sketch"), tr("Draws on the selected flat face, or on the level plane."), "D",
         [this] { start_sketch(); }},
        {"select", draw, tr("Select in the sketch"), tr("Selects points and curves of the open sketch."), "",
         tool(DrawTool::select), draws},
        {"line", draw, tr("Line"), tr("Lines end to end in the open sketch."), "L", tool(DrawTool::line), draws},
        {"rectangle", draw, tr("Rectangle"), tr("A rectangle from corner to corner."), "R", tool(DrawTool::rectangle),
         draws},
        {"circle", draw, tr("Circle"), tr("A circle from its centre."), "O", tool(DrawTool::circle), draws},
        {"arc", draw, tr("Arc"), tr("An arc by centre, start and end."), "A", tool(DrawTool::arc), draws},
        {"dimension", draw, tr("Dimension"), tr("Gives what is picked a typed dimension."), "N",
         tool(DrawTool::dimension), draws},
        {"extrude_cut", cut, tr("Extrude cut"), tr("Cuts chosen bodies with regions of a sketch."), "X",
         [this] { start_step("extrude_cut"); }, has_document},
        {"work_marker", cut, tr("Work marker"), tr("Clicks in the model choose what is cut."), "W",
         [this] { viewport_->set_marker(Marker::work); }},
        {"cutter_marker", cut, tr("Cutter marker"), tr("Clicks in the model choose what cuts."), "C",
         [this] { viewport_->set_marker(Marker::cutter); }},
        {"extrude", join, tr("Extrude"), tr("Sweeps regions of a sketch to a body, or unites them with one."), "E",
         [this] { start_step("extrude"); }, has_document},
        {"cutaway", inside, tr("Cutaway"), tr("Opens the picture at the selected flat face, or through the middle."),
         "K", [this] { contents_->place_cutaway(); }, has_document},
        {"flip_cutaway", inside, tr("Flip the cutaway"), tr("Takes away the other side."), "Shift+K",
         [this] { contents_->flip_cutaway(); }, cutting},
        {"remove_cutaway", inside, tr("Remove the cutaway"), tr("Shows everything whole again."), "",
         [this] { contents_->remove_cutaway(); }, cutting},
        {"fit", inside, tr("Fit"), tr("Shows everything as large as it goes."), "F", [this] { viewport_->fit(); }},
        {"square", inside, tr("Look square"), tr("Looks straight at the selected face or the open sketch."), "Q",
         [this] { viewport_->look_square(); }},
        {"top", "", tr("Look from the top"), tr("The view from above."), "", look(scene::LookFrom::top)},
        {"front", "", tr("Look from the front"), tr("The view from the front."), "", look(scene::LookFrom::front)},
        {"right", "", tr("Look from the right"), tr("The view from the right."), "", look(scene::LookFrom::right)},
        {"left", "", tr("Look from the left"), tr("The view from the left."), "", look(scene::LookFrom::left)},
        {"back", "", tr("Look from the back"), tr("The view from the back."), "", look(scene::LookFrom::back)},
        {"under", "", tr("Look from under"), tr("The view from below."), "", look(scene::LookFrom::under)},
        {"corner", "", tr("Look from a corner"), tr("The pictorial view from above."), "",
         look(scene::LookFrom::corner)},
        {"corner_below", "", tr("Look from a corner below"), tr("The pictorial view from below."), "",
         look(scene::LookFrom::corner_below)},
        {"findings", check, tr("Next finding"), tr("Opens the next step that has a finding."), "",
         [this] { findings_->click(); }},
        {"theme", check, tr("Paper or slate"), tr("Changes between the light and the dark theme."), "",
         [this] { set_dark(!theme_.dark); }},
        {"save", hand, tr("Save"), tr("Saves the document."), "Ctrl+S", [this] { save_file(session_.path()); }},
        {"save_as", hand, tr("Save as\u2026"), tr("Saves the document under another name."), "Ctrl+Shift+S",
         [this] { save_file({}); }},
        {"hand_over", hand, tr("Hand over bodies\u2026"), tr("Writes the bodies to STEP, BREP or STL."), "Ctrl+E",
         [this] {
             const QString path = QFileDialog::getSaveFileName(
                 this, tr("Hand over"), QString::fromStdString(session_.document().title) + ".step",
                 tr("STEP AP242 (*.step);;BREP (*.brep);;STL (*.stl)"));
             if (!path.isEmpty()) {
                 hand_over_file(path);
             }
         },
         has_document},
        {"undo", "", tr("Undo"), tr("Takes back the last change, without limit."), "Ctrl+Z",
         [this] { session_.undo(); }, [this] { return session_.can_undo(); }},
        {"redo", "", tr("Redo"), tr("Makes the change again that was taken back."), "Ctrl+Shift+Z",
         [this] { session_.redo(); }, [this] { return session_.can_redo(); }},
        {"accept", "", tr("Accept"), tr("Keeps the open step."), "Ctrl+Return", [this] { session_.accept_card(); },
         card_open},
        {"add_parameter", "", tr("Add a parameter"), tr("Adds a named value that formulas can read."), "P",
         [this] { parameters_->add_parameter(); }},
        {"rename", "", tr("Rename body"), tr("Renames the selected body in Contents."), "",
         [this] { contents_->rename_selected(); }},
        {"color", "", tr("Colour body"), tr("Colours the selected bodies."), "",
         [this] { contents_->color_selected(); }},
        {"hide", "", tr("Hide or show body"), tr("Hides or shows the selected bodies."), "H",
         [this] { contents_->toggle_hidden(); }},
        {"whole_route", "", tr("Show the whole route"), tr("Shows the model after its last step."), "",
         [this] { session_.show_as_of(0); }},
        {"find", "", tr("Find a verb"), tr("Finds anything Kervo can do, by name."), "Space",
         [this] { find_->open(); }},
    };
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
    row->addSpacing(10);
    QStringList groups;
    for (const Verb& verb : verbs_) {
        if (!verb.group.isEmpty() && !groups.contains(verb.group)) {
            groups << verb.group;
        }
    }
    for (const QString& group : groups) {
        auto* button = new QPushButton(group, bar_);
        button->setObjectName("group");
        button->setToolTip(tr("Verbs: %1").arg(group));
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
    hint_ = new QLabel(status);
    over_ = new QLabel(status);
    where_ = new QLabel(status);
    unit_ = new QLabel(status);
    for (QLabel* label : {hint_, over_, where_, unit_}) {
        label->setObjectName("quiet");
    }
    progress_ = new QProgressBar(status);
    progress_->setTextVisible(false);
    progress_->setFixedWidth(90);
    progress_->setAccessibleName(tr("Progress"));
    progress_->hide();
    stop_ = new QPushButton(tr("Stop"), status);
    stop_->setToolTip(tr("Stops the work; nothing is lost."));
    stop_->hide();
    findings_ = new QPushButton(status);
    findings_->setToolTip(tr("Opens the next step that has a finding."));
    row->addWidget(marker_);
    row->addWidget(hint_);
    row->addStretch(1);
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
    connect(&session_, &Session::changed, this, [this] {
        progress_->setValue(0);
        busy_timer_->start(300); // short work needs no bar
    });
    connect(stop_, &QPushButton::clicked, &session_, &Session::cancel_work);
    connect(findings_, &QPushButton::clicked, this, [this] {
        const auto& steps = session_.document().steps;
        const int from = session_.card() == 0 ? -1 : session_.document().index_of(session_.card());
        for (size_t i = 1; i <= steps.size(); ++i) {
            const auto& step = steps[(static_cast<size_t>(from + static_cast<int>(i))) % steps.size()];
            const auto* report = session_.report(step->id);
            if (report != nullptr && !report->findings.empty()) {
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
        button->setFixedSize(44, 25);
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
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    QTimer::singleShot(0, this, [this] { sheet_->move(viewport_->width() - sheet_->width() - 12, 12); });
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

void MainWindow::start_sketch() {
    model::SketchStep sketch;
    for (const model::Reference& reference : viewport_->selection()) {
        if (reference.kind == model::ElementKind::face) {
            sketch.plane.value = "face";
            sketch.face = {reference};
        }
    }
    int number = 1;
    for (const auto& step : session_.document().steps) {
        number += std::holds_alternative<model::SketchStep>(step->definition) ? 1 : 0;
    }
    session_.add_step(sketch, "Sketch " + std::to_string(number));
}

void MainWindow::start_step(const char* kind) {
    auto definition = model::make_definition(kind);
    // The sketch drawn last is the likely one.
    model::SketchLink link;
    for (const auto& step : session_.document().steps) {
        if (std::holds_alternative<model::SketchStep>(step->definition)) {
            link.step = step->id;
        }
    }
    model::set_field(*definition, "sketch", link);
    session_.add_step(*definition, model::kind_of(*definition).title);
    viewport_->set_marker(Marker::cutter);
}

void MainWindow::refresh_title() {
    const QString title = QString::fromStdString(session_.document().title);
    title_->setText(title + (session_.edited() ? tr(" \u00b7 edited") : QString()));
    setWindowTitle(title + tr(" \u2014 Kervo"));
    const bool work = viewport_->marker() == Marker::work;
    const QColor color = work ? theme_.workpiece : theme_.cutter;
    marker_->setText(QString::fromUtf8("<span style='color:%1'>\u25a0</span>&nbsp; <b>%2</b>")
                         .arg(color.name(), work ? tr("Work marker") : tr("Cutter marker")));
    unit_->setText(QString::fromStdString(session_.document().unit));
    const size_t count = session_.findings().size();
    findings_->setText(count == 0 ? tr("no findings") : count == 1 ? tr("1 finding") : tr("%1 findings").arg(count));
    findings_->setStyleSheet(QString("color: %1").arg((count == 0 ? theme_.quiet : theme_.finding).name()));
}

void MainWindow::tell(const QString& line) {
    hint_->setText(hint_->fontMetrics().elidedText(line, Qt::ElideRight, 470));
    hint_->setToolTip(line);
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
    contents_->set_theme(theme_);
    parameters_->set_theme(theme_);
    route_->set_theme(theme_);
    refresh_title();
}

bool MainWindow::open_file(const QString& path) {
    if (const auto problem = session_.open(path)) {
        tell_problem(*problem);
        return false;
    }
    return true;
}

bool MainWindow::import_file(const QString& path) {
    if (const auto problem = session_.import_file(path)) {
        tell_problem(*problem);
        return false;
    }
    return true;
}

bool MainWindow::save_file(const QString& given) {
    QString path = given;
    if (path.isEmpty()) {
        path =
            QFileDialog::getSaveFileName(this, tr("Save"), QString::fromStdString(session_.document().title) + ".kervo",
                                         tr("Kervo documents (*.kervo);;Bare documents (*.json)"));
    }
    if (path.isEmpty()) {
        return false;
    }
    if (const auto problem = session_.save(path, preview())) {
        tell_problem(*problem);
        return false;
    }
    tell(tr("Saved."));
    return true;
}

bool MainWindow::hand_over_file(const QString& path) {
    if (const auto problem = session_.hand_over(path)) {
        tell_problem(*problem);
        return false;
    }
    tell(tr("Handing over \u2026"));
    return true;
}

std::string MainWindow::preview() {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    viewport_->grabFramebuffer().scaled(512, 512, Qt::KeepAspectRatio, Qt::SmoothTransformation).save(&buffer, "PNG");
    return bytes.toStdString();
}

bool MainWindow::keep_changes() {
    session_.accept_card();
    if (!session_.edited()) {
        return true;
    }
    QMessageBox box(
        QMessageBox::NoIcon, tr("Kervo"),
        tr("Save the changes to \u201c%1\u201d first?").arg(QString::fromStdString(session_.document().title)),
        QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, this);
    const int answer = box.exec();
    return answer == QMessageBox::Discard || (answer == QMessageBox::Save && save_file(session_.path()));
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (keep_changes()) {
        session_.leave();
        event->accept();
    } else {
        event->ignore();
    }
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
