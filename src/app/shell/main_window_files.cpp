// Files of the window: opening, saving, bringing in, handing over; and what is dropped on it.
#include "app/shell/main_window.h"

#include "app/shell/recent.h"

#include <QBuffer>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QMessageBox>
#include <QMimeData>

namespace kervo::app {

bool MainWindow::open_file(const QString& path) {
    remember();
    if (const auto problem = session_.open(path)) {
        tell_problem(*problem);
        return false;
    }
    remember_document(path);
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
        session_.look_outside();
        if (problem->code == "file.changed") {
            return save_over_others(path, *problem);
        }
        tell_problem(*problem);
        return false;
    }
    remember();
    tell(tr("Saved."));
    return true;
}

bool MainWindow::save_over_others(const QString& path, const Finding& problem) {
    constexpr size_t most_lines = 8;
    QMessageBox box(QMessageBox::NoIcon, tr("Kervo"), QString::fromStdString(problem.cause), QMessageBox::Cancel, this);
    box.setInformativeText(told_differences(session_.differences_outside(), most_lines));
    const auto* over = box.addButton(tr("Save over it"), QMessageBox::DestructiveRole);
    const auto* elsewhere = box.addButton(tr("Save elsewhere \u2026"), QMessageBox::AcceptRole);
    const auto* theirs = box.addButton(tr("Open theirs"), QMessageBox::ActionRole);
    box.exec();
    if (box.clickedButton() == elsewhere) {
        return save_file({});
    }
    if (box.clickedButton() == theirs) {
        open_theirs();
        return false;
    }
    if (box.clickedButton() != over) {
        return false;
    }
    if (const auto again = session_.save(path, preview(), Session::Others::are_replaced)) {
        tell_problem(*again);
        return false;
    }
    tell(tr("Saved."));
    return true;
}

void MainWindow::open_theirs() {
    session_.accept_card();
    const QString question = tr("Give up the changes that were made here?");
    if (!session_.edited() ||
        QMessageBox(QMessageBox::NoIcon, tr("Kervo"), question, QMessageBox::Discard | QMessageBox::Cancel, this)
                .exec() == QMessageBox::Discard) {
        open_file(session_.path());
    }
}

bool MainWindow::hand_over_file(const QString& path, const io::ExportOptions& options) {
    if (const auto problem = session_.hand_over(path, options)) {
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
    if (answer == QMessageBox::Discard) {
        session_.give_up_recovered();
    }
    return answer == QMessageBox::Discard || (answer == QMessageBox::Save && save_file(session_.path()));
}

void MainWindow::remember() {
    if (!session_.path().isEmpty()) {
        remember_document(session_.path(), session_.document().steps.empty() ? QImage() : viewport_->grabFramebuffer());
    }
}

// --- Dropped files --------------------------------------------------------------------------------------------------

namespace {

bool is_document(const QString& path) {
    return path.endsWith(".kervo", Qt::CaseInsensitive) || path.endsWith(".json", Qt::CaseInsensitive);
}

} // namespace

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    for (const QUrl& url : event->mimeData()->urls()) {
        const QString path = url.toLocalFile();
        if (is_document(path) || io::format_of(path.toStdString()) != nullptr) {
            event->acceptProposedAction();
            return;
        }
    }
}

void MainWindow::dropEvent(QDropEvent* event) {
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls()) {
        if (url.isLocalFile()) {
            paths << url.toLocalFile();
        }
    }
    event->acceptProposedAction();
    // The one who drags waits for the end of this.
    QTimer::singleShot(0, this, [this, paths] {
        for (const QString& path : paths) {
            take_dropped(path);
        }
    });
}

// A document is opened, bodies become a step, outlines go into the open sketch or one of their own, a table becomes
// parameters.
void MainWindow::take_dropped(const QString& path) {
    if (is_document(path)) {
        if (keep_changes()) {
            open_file(path);
        }
        return;
    }
    const io::Format* format = io::format_of(path.toStdString());
    if (format == nullptr) {
        tell(tr("\u201c%1\u201d is of no format that can be brought in.").arg(QFileInfo(path).fileName()));
    } else if (format->reads(io::Content::bodies)) {
        import_file(path);
    } else if (format->reads(io::Content::outlines)) {
        if (viewport_->hand().drawn_step() == 0) {
            run_verb("sketch");
        }
        session_.outlines_in(session_.card(), path);
    } else if (format->reads(io::Content::parameters)) {
        if (const auto problem = session_.parameters_in(path)) {
            tell_problem(*problem);
        }
    } else {
        tell(tr("%1 files can be written, not read.").arg(QString::fromStdString(format->title)));
    }
}

} // namespace kervo::app
