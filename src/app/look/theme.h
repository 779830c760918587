// Colours and type of the window: "paper" and "slate". Roles have one colour each, used for nothing else.
#pragma once

#include <QColor>
#include <QFont>
#include <QString>

namespace kervo::app {

struct Theme {
    bool dark = false;
    QColor paper;     ///< under the model
    QColor panel;     ///< under lists and cards
    QColor card;      ///< under the open card
    QColor ink;       ///< text and lines
    QColor quiet;     ///< lesser text
    QColor rule;      ///< hairlines between rows
    QColor chosen;    ///< under chosen rows
    QColor workpiece; ///< verdigris
    QColor cutter;    ///< ochre
    QColor apart;     ///< umber
    QColor finding;   ///< vermilion
    QColor edge;      ///< edges of bodies
    QColor cap;       ///< fill of cut faces
};

Theme paper_theme();
Theme slate_theme();
/// The colour a body is drawn in: its own, toned down on slate.
QColor body_color(const Theme& theme, const QString& hex);
/// For bodies without a colour of their own: muted, neighbours in the order well apart.
QColor body_tint(const Theme& theme, int index);
QString style_sheet(const Theme& theme);

/// What the picture needs of the graphics card; call before the application is made.
void ask_for_surface();
/// Name, style and the two shipped type faces; call once after the application is made.
void dress_application();
QFont interface_font(int pixels = 13, QFont::Weight weight = QFont::Normal);
/// ISO 3098 technical lettering.
QFont drawing_font(int pixels);

} // namespace kervo::app
