// What file dialogs say about formats, and the numbers that some of them ask for; all from the table of formats.
#pragma once

#include "io/formats/hand_over.h"

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

/// Asks what has to be known before bodies are written: the format's own questions, who hands them over, whether in a
/// file each, and hidden ones too where there are any. Nothing where the user leaves it; a file of no known format is
/// asked nothing.
std::optional<io::ExportOptions> ask_how_to_hand_over(QWidget* over, const io::Format* format, bool any_hidden);

} // namespace kervo::app
