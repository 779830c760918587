// The tree of Contents: groups and the bodies in them, layers, and what else the document holds.
#pragma once

#include "app/look/theme.h"
#include "app/session/session.h"
#include "app/verbs/verbs.h"
#include "app/view/views.h"

#include <QTreeWidget>

class QMenu;

namespace kervo::app {

class ContentsTree : public QTreeWidget {
    Q_OBJECT
public:
    ContentsTree(Session& session, Viewport& viewport, const Theme& theme, QWidget* parent);
    void set_theme(const Theme& theme);
    void refresh();

    /// What it adds to the bar and the shortcuts.
    std::vector<Verb> verbs();
    /// Bodies, groups and layers that are selected, as a cutaway's scope names them.
    [[nodiscard]] std::vector<std::string> scope_members() const;

protected:
    void dropEvent(QDropEvent* event) override;

private:
    enum class Row {
        other,
        body,
        group,
        layers,
        layer,
        sketches,
        sketch,
        cutaways,
        cutaway,
        views,
        view,
        materials,
        material
    };
    QTreeWidgetItem* add_row(QTreeWidgetItem* under, Row row, const QString& id, const QString& name,
                             const QString& text);
    void add_bodies();
    void add_body(QTreeWidgetItem* under, const model::BodyId& id, const scene::ShownBodyPtr& body);
    void add_layers();
    bool add_sketches(); ///< whether there are any
    bool add_cutaways(); ///< whether there are any
    bool add_views();
    bool add_materials();
    void rename_selected();
    void color_selected();
    /// Of all that is selected; where nothing is, of all bodies. Again: as before.
    void show_selected_as(model::Showing showing);
    void toggle_hidden();
    void change_cutaways(const std::function<void(model::Cutaway&)>& change);
    void open_cutaway_menu(QMenu& menu);
    void open_view_menu(QMenu& menu, const std::string& name);
    void open_material_menu(QMenu& menu, const std::string& name);
    /// Of the selected bodies; empty: none.
    void make_of(const std::string& material);
    void add_material();
    void edit_material(const std::string& name);
    void take_name(Row row, const std::string& id, const std::string& name);
    /// Hides all but what is selected.
    void isolate();
    /// Nothing is hidden, see-through or set aside then; layers that are hidden stay so.
    void show_all();
    void group_selected();
    void dissolve_selected();
    void take_out_of_groups();
    void add_layer();
    /// Onto the current layer, or off all layers where there is none.
    void move_to_current_layer();
    void open_menu(const QPoint& at);
    void take_item(QTreeWidgetItem* item, int column);
    void take_tick(QTreeWidgetItem* item, const model::BodyId& id);
    void tell_selection();
    void take_selection();
    [[nodiscard]] static Row row_of(const QTreeWidgetItem* item);
    [[nodiscard]] static std::string key_of(Row row, const std::string& id); ///< for `closed_`
    [[nodiscard]] static std::string id_of(const QTreeWidgetItem* item);
    /// What the selected rows of a kind stand for.
    [[nodiscard]] std::vector<std::string> selected(Row row) const;
    [[nodiscard]] std::vector<int> selected_numbers(Row row) const;
    /// Bodies that are selected, with those of selected groups.
    [[nodiscard]] std::vector<model::BodyId> bodies() const;
    [[nodiscard]] std::vector<model::BodyId> all_bodies() const;
    [[nodiscard]] std::vector<model::BodyId> lone_bodies() const; ///< selected as rows of their own
    [[nodiscard]] std::vector<int> groups() const;
    [[nodiscard]] std::map<model::BodyId, int> groups_now() const;
    [[nodiscard]] std::string layer() const; ///< the selected one; empty: none
    void change_looks(const std::vector<model::BodyId>& bodies,
                      const std::function<void(const model::BodyId&, model::Appearance&)>& change);
    void change_layer(const std::function<void(model::Layer&)>& change);
    [[nodiscard]] const model::Appearance& look_of(const model::BodyId& id) const;

    Session& session_;
    Viewport& viewport_;
    Views* views_;
    Theme theme_;
    bool filling_ = false;
    std::set<std::string> closed_; ///< rows that are folded: by the user, and the sketches until then
};

} // namespace kervo::app
