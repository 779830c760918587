// The verbs of the window itself: files, the history, finding and checking. The others come from what does them.
#include "app/shell/main_window.h"

#include "app/shell/file_dialogs.h"
#include "app/verbs/step_verbs.h"

#include <QFileDialog>

namespace kervo::app {

void MainWindow::build_verbs() {
    auto* steps = new StepVerbs(session_, *viewport_, this);
    for (auto& more :
         {file_verbs(), steps->all(), marker_verbs(), cutaway_->verbs(), contents_->verbs(), hand_over_verbs()}) {
        add_verbs(verbs_, more);
    }
    for (const auto& tool : viewport_->tools()) {
        add_verbs(verbs_, tool->verbs());
    }
    add_verbs(verbs_, window_verbs());
}

std::vector<Verb> MainWindow::file_verbs() {
    const BarGroup bring = BarGroup::bring_in;
    const auto ask = [this](const QString& title, const QString& kinds,
                            const std::function<void(const QString&)>& take) {
        return [this, title, kinds, take] {
            if (const QString path = QFileDialog::getOpenFileName(this, title, {}, kinds); !path.isEmpty()) {
                take(path);
            }
        };
    };
    return {
        {"new", bring, tr("New document"), tr("Starts an empty document."), "Ctrl+N",
         [this] {
             if (keep_changes()) {
                 session_.start_new();
             }
         }},
        {"open", bring, tr("Open\u2026"), tr("Opens a Kervo document."), "Ctrl+O",
         [this, open = ask(tr("Open"), tr("Kervo documents (*.kervo *.json)"),
                           [this](const QString& path) { open_file(path); })] {
             if (keep_changes()) {
                 open();
             }
         }},
        {"import", bring, tr("Import\u2026"),
         tr("Brings in bodies from a file, such as %1.").arg(extensions_read(io::Content::bodies)), "I",
         ask(tr("Import"), files_read(io::Content::bodies, tr("Exact bodies")),
             [this](const QString& path) { import_file(path); })},
        {"outlines_in", bring, tr("Bring in outlines\u2026"),
         tr("Draws what a file draws into the open sketch: %1.").arg(extensions_read(io::Content::outlines)), "",
         ask(tr("Outlines"), files_read(io::Content::outlines, tr("Outlines")),
             [this](const QString& path) { session_.outlines_in(session_.card(), path); }),
         draws()},
        {"parameters_in", bring, tr("Parameters from a table\u2026"),
         tr("Takes names, formulas and units from a CSV file."), "",
         ask(tr("Parameters from a table"), files_read(io::Content::parameters, tr("Tables")),
             [this](const QString& path) {
                 if (const auto problem = session_.parameters_in(path)) {
                     tell_problem(*problem);
                 }
             })},
    };
}

std::vector<Verb> MainWindow::hand_over_verbs() {
    const BarGroup hand = BarGroup::hand_over;
    const auto has_document = [this] { return !session_.document().steps.empty(); };
    const auto write = [this](const QString& title, io::Content content,
                              const std::function<std::optional<Finding>(const QString&)>& to) {
        return [this, title, content, to] {
            if (const QString path = ask_where_to_write(title, content); !path.isEmpty()) {
                const auto problem = to(path);
                problem ? tell_problem(*problem) : tell(tr("Written: %1").arg(path));
            }
        };
    };
    return {
        {"save", hand, tr("Save"), tr("Saves the document."), "Ctrl+S", [this] { save_file(session_.path()); }},
        {"save_as", hand, tr("Save as\u2026"), tr("Saves the document under another name."), "Ctrl+Shift+S",
         [this] { save_file({}); }},
        {"hand_over", hand, tr("Hand over bodies\u2026"),
         tr("Writes the bodies to a file: %1.").arg(extensions_written(io::Content::bodies)), "Ctrl+E",
         [this] {
             const QString path = ask_where_to_write(tr("Hand over"), io::Content::bodies);
             const auto options =
                 path.isEmpty() ? std::nullopt
                                : ask_how_to_hand_over(this, io::format_of(path.toStdString()), session_.any_hidden());
             if (options) {
                 hand_over_file(path, *options);
             }
         },
         has_document},
        {"outlines_out", hand, tr("Outlines of a sketch\u2026"),
         tr("Writes the open sketch to a file, at scale: %1.").arg(extensions_written(io::Content::outlines)), "",
         write(tr("Outlines of a sketch"), io::Content::outlines,
               [this](const QString& path) { return session_.outlines_out(session_.card(), path); }),
         draws()},
        {"parameters_out", hand, tr("Parameters to a table\u2026"),
         tr("Writes names, formulas, values and units to a CSV file."), "",
         write(tr("Parameters to a table"), io::Content::parameters,
               [this](const QString& path) { return session_.parameters_out(path); }),
         [this] { return !session_.document().parameters.empty(); }},
    };
}

std::vector<Verb> MainWindow::marker_verbs() {
    return {
        {"work_marker", BarGroup::cut, tr("Work marker"), tr("Clicks in the model choose what is cut."), "W",
         [this] { viewport_->hand().set_marker(Marker::work); }},
        {"cutter_marker", BarGroup::cut, tr("Cutter marker"), tr("Clicks in the model choose what cuts."), "C",
         [this] { viewport_->hand().set_marker(Marker::cutter); }},
    };
}

std::vector<Verb> MainWindow::window_verbs() {
    const BarGroup check = BarGroup::check;
    return {
        {"dependencies", check, tr("What hangs on what"),
         tr("Shows parameters and steps as a picture, and what hangs on what."), "", [this] { show_dependencies(); },
         [this] { return !session_.document().steps.empty(); }},
        {"findings", check, tr("Next finding"), tr("Opens the next step that has a finding."), "",
         [this] { findings_->click(); }},
        {"theme", check, tr("Paper or slate"), tr("Changes between the light and the dark theme."), "",
         [this] { set_dark(!theme_.dark); }},
        {"undo",
         {},
         tr("Undo"),
         tr("Takes back the last change, without limit."),
         "Ctrl+Z",
         [this] { session_.undo(); },
         [this] { return session_.can_undo(); }},
        {"redo",
         {},
         tr("Redo"),
         tr("Makes the change again that was taken back."),
         "Ctrl+Shift+Z",
         [this] { session_.redo(); },
         [this] { return session_.can_redo(); }},
        {"accept",
         {},
         tr("Accept"),
         tr("Keeps the open step."),
         "Ctrl+Return",
         [this] { session_.accept_card(); },
         [this] { return session_.card() != 0; }},
        {"add_parameter",
         {},
         tr("Add a parameter"),
         tr("Adds a named value that formulas can read."),
         "P",
         [this] { parameters_->add_parameter(); }},
        {"whole_route",
         {},
         tr("Show the whole route"),
         tr("Shows the model after its last step."),
         "",
         [this] { session_.show_as_of(0); }},
        {"find",
         {},
         tr("Find a verb"),
         tr("Finds anything Kervo can do, by name."),
         "Space",
         [this] { find_->open(); }},
    };
}

// The first of the formats is offered; another file name takes another.
QString MainWindow::ask_where_to_write(const QString& title, io::Content content) {
    const std::string name = session_.document().title + io::writers_of(content).front()->extensions.front();
    return QFileDialog::getSaveFileName(this, title, QString::fromStdString(name), files_written(content));
}

std::function<bool()> MainWindow::draws() const {
    return [this] { return viewport_->hand().drawn_step() != 0; };
}

} // namespace kervo::app
