// Drawing a sketch by mouse and keyboard: tools, snapping, typed dimensions, editing, dragging. Works in the sketch's
// own coordinates and knows nothing of pixels but their size; hands every finished change back as a whole new sketch.
#pragma once

#include "app/drawing/draw_tools.h"
#include "app/drawing/shape_maker.h"
#include "app/drawing/snapping.h"
#include "model/sketching/taken.h"
#include "sketch/edit.h"
#include "sketch/figures.h"

#include <QObject>
#include <QString>

#include <functional>
#include <optional>
#include <set>

namespace kervo::app {

class Drawing {
public:
    using Commit = std::function<void(const sketch::Sketch&)>;

    void begin(const sketch::Sketch& solved, Commit commit);
    /// The sketch as it is now solved; keeps the tool and what is half drawn.
    void refresh(const sketch::Sketch& solved);
    void set_tool(DrawTool tool);
    [[nodiscard]] DrawTool tool() const { return tool_; }
    [[nodiscard]] const sketch::Sketch& drawn() const { return sketch_; }
    /// What its figures draw.
    [[nodiscard]] const std::vector<sketch::FilledOutline>& figures() const { return figures_; }
    /// The point, curve or figure nearest to a place, within reach; 0: none. Points win over curves, curves over
    /// figures.
    [[nodiscard]] int nearest(const sketch::Point2& place, double reach) const;

    /// Where a click at `place` would land; `reach` is the snap distance in mm.
    [[nodiscard]] Snap snap(const sketch::Point2& place, double reach) const;
    /// What can be snapped to beside the sketch itself.
    void set_beside(std::vector<Beside> beside) { beside_ = std::move(beside); }
    void set_grid(double step) { grid_ = step; } ///< mm; 0: none
    /// Where the pointer could land instead, the present place first; two or more only where places crowd.
    [[nodiscard]] const std::vector<Snap>& crowd() const { return crowd_; }
    /// Lands on the next of the crowd; false where there is none.
    bool next_of_crowd();
    /// The next pick lands where it would, but is tied to nothing; once more: it is tied again. False where there is
    /// nothing to refuse.
    bool refuse_tie();
    void hover(const sketch::Point2& place, double reach);
    void click(const sketch::Point2& place, double reach);
    /// Selects these beside, or instead of, what is selected.
    void select(const std::set<int>& ids, bool more);
    /// From the last place, the pointer keeps to whole steps of 15 degrees.
    void keep_straight(bool on) { straight_ = on; }
    /// Ends what takes as many places as are wanted; false where there is nothing to end.
    bool finish();
    /// Steps back by one: drops what is half drawn, else the tool, else the selection. False when there was nothing.
    bool escape();
    bool remove_selected();
    /// Makes guides (construction) of what is selected, or outlines again.
    bool toggle_guides();
    /// Draws what was found in the model.
    void take_over(const std::vector<model::Taken>& taken);
    /// Lets what is selected of the model's curves stay where it is, whatever the model does; where all of that does,
    /// it follows again.
    bool freeze();

    /// Pulling a point: the sketch follows live and is handed back when it is let go.
    void take_point(const sketch::Point2& place, double reach);
    void pull_point(const sketch::Point2& place, const ParameterValues& parameters);
    void let_go();
    void drop_point() { pulled_ = 0; } ///< it was a click, not a pull
    [[nodiscard]] bool pulls() const { return pulled_ != 0; }

    /// What may be typed now: labels of the numbers, none where nothing is half drawn.
    [[nodiscard]] std::vector<QString> asks_for() const;
    /// Beside those: where the next place lies, by its coordinates, from the last place, by an angle.
    [[nodiscard]] std::vector<QString> asks_for_place() const;
    /// The numbers are all that is missing: they should be asked for at once.
    [[nodiscard]] bool waits_for_numbers() const;
    /// Finishes what is half drawn with typed formulas, or picks the typed place: those of `asks_for`, then those of
    /// `asks_for_place`. Empty ones are taken from the pointer.
    void finish_typed(const std::vector<std::string>& formulas, const ParameterValues& parameters);

    /// Adds the constraint to what is selected; says why not where that makes no sense.
    QString constrain(sketch::ConstraintKind kind, const std::string& formula = {});
    /// The dimension that the present selection would get, by its length, distance, diameter or angle as drawn.
    [[nodiscard]] std::optional<std::pair<sketch::ConstraintKind, double>> dimension_of_selection() const;

    [[nodiscard]] const Snap& pointer() const { return pointer_; }
    [[nodiscard]] const std::vector<Snap>& placed() const { return placed_; }
    [[nodiscard]] const std::set<int>& selected() const { return selected_; }
    /// What is half drawn, to be shown.
    [[nodiscard]] std::vector<sketch::Stretch> rubber() const;
    /// What a click of an editing tool would take away or add, and which curves decide it.
    [[nodiscard]] sketch::Preview preview() const;
    [[nodiscard]] QString hint() const;
    /// What became of the last edit, or why nothing did; empty once another tool is taken up.
    [[nodiscard]] const QString& told() const { return told_; }

private:
    void put(const Snap& place);
    [[nodiscard]] Snap straightened(const sketch::Point2& place) const;
    [[nodiscard]] std::vector<Snap> snaps(const sketch::Point2& place, double reach) const;
    /// The one of them that is chosen, tied or not.
    [[nodiscard]] Snap meant_of(const std::vector<Snap>& found, const sketch::Point2& place, double reach) const;
    [[nodiscard]] bool picks_places() const;
    /// Nothing where no coordinate is typed, or one that has no value.
    [[nodiscard]] std::optional<Snap> typed_place(const std::vector<std::string>& formulas,
                                                  const ParameterValues& parameters) const;
    /// The sketch with a shape more, from places and typed formulas; nothing where the places make none.
    [[nodiscard]] std::optional<sketch::Sketch> with_shape(const std::vector<Snap>& places,
                                                           const std::vector<std::string>& formulas,
                                                           const ParameterValues& parameters) const;
    /// What `next` draws beyond what is drawn.
    [[nodiscard]] std::vector<sketch::Stretch> added_in(const sketch::Sketch& next) const;
    void complete(const std::vector<std::string>& formulas, const ParameterValues& parameters);
    void click_edit(const sketch::Point2& place, double reach);
    void edit_typed(const std::vector<std::string>& formulas, const ParameterValues& parameters);
    void take(sketch::Sketch next);
    void show(sketch::Sketch next);
    void drop_what_is_gone();
    void take(const sketch::Edited& edited);
    [[nodiscard]] bool offsets() const { return tool_ == DrawTool::offset || tool_ == DrawTool::round_offset; }
    /// The curves that hang together with one; lines and arcs, or splines and parts of ellipses too.
    [[nodiscard]] std::set<int> chain_around(int curve, bool with_free = false) const;
    /// What is selected, in a row or ring at the picked places.
    [[nodiscard]] sketch::Edited repeated(const std::string& count, double value) const;
    [[nodiscard]] sketch::Edited offset_to(const sketch::Point2& place, const std::string& formula, double value) const;

    sketch::Sketch sketch_;
    std::vector<sketch::FilledOutline> figures_;
    Commit commit_;
    DrawTool tool_ = DrawTool::select;
    std::vector<Snap> placed_;
    Snap pointer_;
    sketch::Point2 pointed_{}; ///< where the pointer is, before it snaps
    double reach_ = 1;
    std::set<int> selected_;
    int pulled_ = 0;
    bool straight_ = false;
    std::vector<Beside> beside_;
    double grid_ = 0;
    std::vector<Snap> crowd_;
    size_t chosen_ = 0; ///< of the crowd, as long as the pointer stays where it was chosen
    sketch::Point2 chosen_at_{};
    bool untied_ = false; ///< the next pick is tied to nothing
    QString told_;
    ShapeWish wanted_;
};

/// The curve nearest to a place, within reach; 0: none.
int nearest_curve(const sketch::Sketch& sketch, const sketch::Point2& place, double reach);

} // namespace kervo::app
