#include "app/look/theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QSurfaceFormat>

#include <iterator>

namespace kervo::app {

Theme paper_theme() {
    return {false,     "#f6f2e8", "#fbf9f3", "#fefdf9", "#1e2a33", "#757166", "#ddd8ca",
            "#e1eeea", "#21806f", "#b06d06", "#7a4f2b", "#c33a1c", "#1e2a33", "#f7ecd4"};
}

Theme slate_theme() {
    return {true,      "#22292e", "#2a3238", "#313a41", "#ece8dc", "#a3abab", "#3d474e",
            "#2c4745", "#5fc0ad", "#e0a64d", "#c4966c", "#f0785a", "#e4e7e2", "#4a4436"};
}

QColor body_color(const Theme& theme, const QString& hex) {
    QColor color(hex.isEmpty() ? QStringLiteral("#cfd4cd") : hex);
    if (!theme.dark) {
        return color;
    }
    return QColor::fromRgbF(color.redF() * 0.52F + 0.03F, color.greenF() * 0.52F + 0.05F,
                            color.blueF() * 0.52F + 0.06F);
}

QColor body_tint(const Theme& theme, int index) {
    static const char* const tints[] = {"#cfd4cd", "#d8c3a0", "#b3c1d6", "#c3cfa6", "#d7b9ae", "#aecdcb", "#c9bad2"};
    return body_color(theme, QLatin1String(tints[static_cast<size_t>(index) % std::size(tints)]));
}

// Long because it is one text.
QString style_sheet(const Theme& t) {
    QString css = R"(
* { font-family: "IBM Plex Sans"; font-size: 13px; color: INK; }
QMainWindow, QWidget#side, QScrollArea, QWidget#bar, QWidget#status, QDialog, QMessageBox { background: PANEL; }
QWidget#list, QWidget#row { background: transparent; }
QScrollArea, QTreeWidget, QTableWidget { border: none; background: PANEL; }
QScrollArea > QWidget > QWidget { background: PANEL; }
QWidget#bar { border-bottom: 1px solid RULE; }
QWidget#status { border-top: 1px solid RULE; }
QWidget#left { border-right: 1px solid RULE; background: PANEL; }
QWidget#right { border-left: 1px solid RULE; background: PANEL; }
QScrollArea#findings { border-top: 1px solid RULE; }
QWidget#notice { background: CARD; border-bottom: 1px solid RULE; border-left: 5px solid CUTTER; }
QWidget#notice[kind="trouble"] { border-left: 5px solid FINDING; }
QDialog#framed { border: 1px solid INK; }
QLabel { background: transparent; }
QLabel#heading { font-weight: 600; }
QLabel#quiet, QLabel[quiet="true"], QLabel#question { color: QUIET; }
QLabel#question { font-weight: 500; }
QLabel#folded { color: QUIET; border: 1px solid transparent; border-radius: 4px; padding: 1px 2px; }
QLabel#folded:hover { background: CHOSEN; }
QLabel#folded:focus { border: 1px solid WORK; }
QLabel#problem { color: FINDING; }
QLabel#caution { color: CUTTER; }
QLabel#number { font-family: "osifont"; font-size: 18px; }
QFrame#rule { background: RULE; border: none; max-height: 1px; min-height: 1px; }
QFrame#card { background: CARD; border: 1px solid INK; border-radius: 4px; }
QFrame#card QWidget { background: transparent; }
QToolTip { background: INK; color: PANEL; border: none; padding: 4px 6px; }
QPushButton, QToolButton { background: transparent; border: 1px solid transparent; border-radius: 4px; padding: 3px 8px; }
QPushButton:hover, QToolButton:hover { background: CHOSEN; }
QPushButton:focus, QToolButton:focus { border: 1px solid WORK; }
QPushButton:disabled, QToolButton:disabled { color: QUIET; }
QToolButton#icon { padding: 0; }
QToolButton#icon:checked { background: CHOSEN; border: 1px solid WORK; }
QPushButton#plain, QPushButton#offer { border: 1px solid RULE; }
QPushButton#plain:focus, QPushButton#offer:focus { border: 1px solid WORK; }
QPushButton#tool { border: 1px solid RULE; padding: 1px 2px; font-size: 12px; }
QPushButton#tool:focus { border: 1px solid WORK; }
QPushButton#main { background: INK; color: PANEL; border: 1px solid INK; padding: 4px 14px; }
QPushButton#main:focus { border: 1px solid WORK; }
QPushButton#main:disabled { background: RULE; color: QUIET; border: 1px solid RULE; }
QPushButton#second { border: 1px solid INK; padding: 4px 14px; }
QPushButton#second:focus { border: 1px solid WORK; }
QPushButton#fold { text-align: left; padding: 1px 2px; color: QUIET; font-weight: 500; }
QPushButton:checked, QFrame#card QPushButton:checked { background: INK; color: PANEL; }
QPushButton#fold:checked, QFrame#card QPushButton#fold:checked { background: transparent; color: QUIET; }
QPushButton#verdict { border: 1px solid RULE; border-radius: 0; padding: 1px 4px; font-size: 12px; }
QPushButton#verdict:checked, QFrame#card QPushButton#verdict:checked { background: INK; color: PANEL; border: 1px solid INK; }
QPushButton#sheet { border: 1px solid RULE; border-radius: 0; padding: 0; background: PANEL; font-family: "osifont"; font-size: 14px; }
QPushButton#sheet:hover { background: CHOSEN; }
QLineEdit, QComboBox { background: CARD; border: 1px solid RULE; border-radius: 4px; padding: 2px 6px; min-height: 18px; selection-background-color: WORK; selection-color: PANEL; }
QFrame#card QLineEdit, QFrame#card QComboBox { background: PANEL; }
QLineEdit:focus, QComboBox:focus { border: 1px solid WORK; }
QLineEdit:disabled { color: QUIET; border: 1px dashed RULE; }
QLineEdit[tight="true"] { padding: 2px 3px; }
QLineEdit[wrong="true"] { border: 1px solid FINDING; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { image: url(:/icons/down-ARROW.png); width: 9px; height: 6px; }
QComboBox QAbstractItemView { background: CARD; border: 1px solid RULE; selection-background-color: CHOSEN; selection-color: INK; outline: none; }
QDialogButtonBox { dialogbuttonbox-buttons-have-icons: 0; }
QMenu { background: CARD; border: 1px solid RULE; padding: 4px; }
QMenu::item { padding: 4px 24px 4px 12px; border-radius: 3px; }
QMenu::item:selected { background: CHOSEN; }
QMenu::item:disabled { color: QUIET; }
QMenu::separator { height: 1px; background: RULE; margin: 4px 8px; }
QTreeWidget, QTableWidget, QListWidget { outline: none; gridline-color: RULE; }
QTreeWidget::item, QListWidget::item { padding: 4px 2px; border: none; }
QTreeWidget::item:selected, QTableWidget::item:selected, QListWidget::item:selected { background: CHOSEN; color: INK; }
QTableWidget::item { padding: 0 4px; border-bottom: 1px solid RULE; }
QListWidget { background: CARD; border: 1px solid RULE; border-radius: 4px; }
QHeaderView::section { background: PANEL; color: QUIET; border: none; border-bottom: 1px solid RULE; padding: 2px 4px; }
QCheckBox { spacing: 6px; background: transparent; }
QCheckBox::indicator { width: 13px; height: 13px; border: 1px solid QUIET; border-radius: 2px; background: CARD; }
QCheckBox::indicator:checked { background: WORK; border: 1px solid WORK; }
QCheckBox:focus { color: WORK; }
QScrollBar:vertical { background: transparent; width: 8px; }
QScrollBar::handle:vertical { background: RULE; border-radius: 4px; min-height: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { height: 0; width: 0; }
QScrollBar:horizontal { background: transparent; height: 8px; }
QScrollBar::handle:horizontal { background: RULE; border-radius: 4px; }
QProgressBar { border: none; background: RULE; border-radius: 2px; max-height: 4px; min-height: 4px; }
QProgressBar::chunk { background: WORK; border-radius: 2px; }
)";
    const std::pair<const char*, QColor> words[] = {
        {"INK", t.ink},       {"PANEL", t.panel},    {"CARD", t.card},       {"QUIET", t.quiet},  {"RULE", t.rule},
        {"CHOSEN", t.chosen}, {"WORK", t.workpiece}, {"FINDING", t.finding}, {"CUTTER", t.cutter}};
    css.replace(QLatin1String("ARROW"), t.dark ? "slate" : "paper");
    for (const auto& [word, color] : words) {
        css.replace(QLatin1String(word), color.name());
    }
    return css;
}

void ask_for_surface() {
    QSurfaceFormat format;
    format.setDepthBufferSize(24);
    format.setStencilBufferSize(8);
    QSurfaceFormat::setDefaultFormat(format);
}

void dress_application() {
    QApplication::setApplicationName("kervo");
    QApplication::setStyle("Fusion");
    for (const char* file : {":/fonts/IBMPlexSans-Regular.ttf", ":/fonts/IBMPlexSans-Medium.ttf",
                             ":/fonts/IBMPlexSans-SemiBold.ttf", ":/fonts/osifont.ttf"}) {
        QFontDatabase::addApplicationFont(QLatin1String(file));
    }
    QApplication::setFont(interface_font());
}

QFont interface_font(int pixels, QFont::Weight weight) {
    QFont font(QStringLiteral("IBM Plex Sans"));
    font.setPixelSize(pixels);
    font.setWeight(weight);
    return font;
}

QFont drawing_font(int pixels) {
    QFont font(QStringLiteral("osifont"));
    font.setPixelSize(pixels);
    return font;
}

} // namespace kervo::app
