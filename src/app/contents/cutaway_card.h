// The answers of the cutaway that is in hand: what it takes away, where that lies, whom it concerns, how its cut faces
// are filled, and how large they are.
#pragma once

#include "app/contents/contents_tree.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include <array>

class QGridLayout;
class QVBoxLayout;

namespace kervo::app {

constexpr int oblique_axis = 3;
/// Which axis the cutaway lies across or along: 0 x, 1 y, 2 z; else `oblique_axis`.
int axis_of(const model::Cutaway& cutaway);
/// A plane or a slab.
bool is_flat(const model::Cutaway& cutaway);

class CutawayCard : public QWidget {
    Q_OBJECT
public:
    CutawayCard(Session& session, Viewport& viewport, ContentsTree& tree, QWidget* parent = nullptr);
    /// What it adds to the bar and the shortcuts.
    std::vector<Verb> verbs();

private:
    using Change = std::function<void(model::Cutaway&)>;
    struct Row {
        QLabel* label;
        QWidget* field;
    };
    void build_head(QVBoxLayout& column);
    void build_where();
    void build_whom();
    Row add_row(const QString& label, QWidget* field);
    QComboBox* choice(const QStringList& words, const QString& name, const QString& tip,
                      void (CutawayCard::*take)(int));
    QLineEdit* number(const QString& name, const QString& tip);
    QWidget* three_numbers(std::array<QLineEdit*, 3>& fields, const std::array<QString, 3>& names, const QString& tip);
    QPushButton* button(const QString& text, const QString& name, const QString& tip, void (CutawayCard::*press)());

    /// Puts a cutaway on the selected flat face (of the selected body), else across the middle of everything, square
    /// to y; others around what is selected, else around a quarter of everything.
    void place(model::Cutaway::Form form);
    void flip();
    void copy();
    void suspend();
    void remove();
    void take_form(int form);
    void take_side(int side);
    void take_axis(int axis);
    void take_scope(int scope);
    void take_fill(int fill);
    void take_members();
    void take_body();
    void take_place();
    void take_numbers(const std::array<QLineEdit*, 3>& fields, std::array<double, 3> model::Cutaway::*into,
                      const Dimension& dimension);
    void change(const Change& how);
    [[nodiscard]] std::optional<model::Cutaway> in_hand() const;
    [[nodiscard]] std::optional<double> read(QLineEdit* field, const Dimension& dimension) const;
    [[nodiscard]] QString members_in_words(const model::Cutaway& cutaway) const;
    [[nodiscard]] QString areas_in_words(const model::Cutaway& cutaway) const;
    [[nodiscard]] QString name_of(const model::BodyId& body) const;
    void refresh();
    void refresh_fields(const model::Cutaway& cutaway);

    Session& session_;
    Viewport& viewport_;
    ContentsTree& tree_;
    QGridLayout* grid_ = nullptr;
    QLabel* title_;
    QPushButton* suspend_;
    QPushButton* take_;
    QComboBox* form_;
    QComboBox* side_;
    QComboBox* axis_;
    QLineEdit* offset_;
    QComboBox* scope_;
    QComboBox* fill_;
    QLabel* body_;
    QLabel* members_;
    QLabel* areas_;
    std::array<QLineEdit*, 3> middle_{}, size_{}, way_{};
    Row middle_row_{}, way_row_{}, size_row_{}, body_row_{};
};

} // namespace kervo::app
