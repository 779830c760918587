// The figures of a sketch on its card: words, artworks, rings and rows with their numbers.
#pragma once

#include "sketch/figures.h"

#include <QWidget>

#include <functional>

class QVBoxLayout;

namespace kervo::app {

class Viewport;

class FigureList : public QWidget {
    Q_OBJECT
public:
    FigureList(Viewport& viewport, QWidget* parent);
    /// Shows the figures; does not disturb what is being typed.
    void refresh(const sketch::Sketch& drawing);

signals:
    void changed(const kervo::sketch::Sketch& drawing);

private:
    using Change = std::function<void(sketch::Figure&)>;
    void add(const sketch::Figure& figure);
    void add_lettering(QVBoxLayout* column, const sketch::Figure& figure);
    void add_artwork(QVBoxLayout* column, const sketch::Figure& figure);
    void change(int figure, const Change& how);
    void follow_selected(int figure);
    /// A field that shows what `read` finds in the figure, and changes it by `write`.
    void add_text(QVBoxLayout* column, const sketch::Figure& figure, const QString& name, const QString& help,
                  const std::function<std::string&(sketch::Figure&)>& of);
    void add_choice(QVBoxLayout* column, const QString& name, const QStringList& choices, const sketch::Figure& figure,
                    const std::function<int(const sketch::Figure&)>& read,
                    const std::function<void(sketch::Figure&, int)>& write);
    void add_switch(QVBoxLayout* column, const QString& name, const QString& help, const sketch::Figure& figure);

    Viewport& viewport_;
    QWidget* rows_ = nullptr;
    sketch::Sketch drawing_;
    std::vector<std::array<int, 3>> listed_;            ///< id, kind and whether it follows a curve
    std::vector<std::function<void()>> refresh_fields_; ///< each shows anew what its field is about
};

} // namespace kervo::app
