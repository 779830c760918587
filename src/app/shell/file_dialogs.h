// What file dialogs say about formats, and the numbers that some of them ask for; all from the table of formats.
#pragma once

#include "io/formats/format.h"

#include <QString>

class QWidget;

namespace kervo::app {

/// "Exact bodies (*.step *.stp *.brep *.brp)": what a dialog for opening offers.
QString files_read(io::Content content, const QString& title);
/// "STEP AP242 (*.step);;BREP (*.brep)": what a dialog for saving offers.
QString files_written(io::Content content);
/// ".step or .brep".
QString extensions_read(io::Content content);
QString extensions_written(io::Content content);

/// Asks for the numbers that a format wants to know before it is written; nothing where the user leaves it. A format
/// without questions, and none at all, are answered at once.
std::optional<io::FormatAnswers> ask_for_answers(QWidget* over, const io::Format* format);

} // namespace kervo::app
