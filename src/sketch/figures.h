// What figures draw: text, artwork, rings and rows. A figure stays what it is (words stay words, a ring stays a count
// and a centre); its outlines are made anew whenever its numbers or what it hangs on change.
#pragma once

#include "sketch/arrangement.h"

namespace kervo::sketch {

/// One shape of an artwork, in mm, as its file has it.
struct ArtShape {
    std::string layer;
    FillRule fill = FillRule::none;
    std::vector<std::vector<Stretch>> chains; ///< each runs on from end to start
    friend bool operator==(const ArtShape&, const ArtShape&) = default;
};
struct Artwork {
    std::string name; ///< of its file
    std::vector<ArtShape> shapes;
    std::vector<std::string> skipped;                ///< what of the file is not here, in words, each once
    [[nodiscard]] std::array<double, 4> box() const; ///< xmin ymin xmax ymax; zeros where it is empty
    friend bool operator==(const Artwork&, const Artwork&) = default;
};

/// Outlines that are filled together: a text, a shape of an artwork, a copy of either.
struct FilledOutline {
    FillRule fill = FillRule::none;
    std::vector<Stretch> stretches; ///< `curve` is the figure's id, `piece` tells them apart
    /// Whether its rule fills the place. Always, where it has none.
    [[nodiscard]] bool fills(const Point2& place) const;
};

/// Adds an artwork: as large as its file has it, where its file has it, unless told otherwise. `width` is a formula;
/// `at` is where its lower left corner goes, `turn` (rad) where its base line leads.
int add_artwork(Sketch& sketch, std::shared_ptr<const Artwork> artwork, const std::string& width = {},
                const std::optional<Point2>& at = {}, double turn = 0);

/// Evaluates the sizes of all figures. Findings: those of formulas, sketch.figure (a size that makes no sense),
/// sketch.font.
void size_figures(Sketch& sketch, const ParameterValues& parameters, Findings& findings);

/// What the figures of a sketch draw, by their sizes as last solved. Figures that do not hold draw nothing.
std::vector<FilledOutline> figure_outlines(const Sketch& sketch);

/// By figure, the indices of the regions that it covers: of words what is inked, of an artwork what it fills or, where
/// it has no fill rules, what an odd number of its outlines goes around; of rings and rows every copy, the first one
/// too.
std::map<int, std::vector<int>> regions_by_figure(const Sketch& sketch, const std::vector<Region>& regions);

/// Adds curves of their own for stretches, with points where they join.
std::vector<int> add_curves(Sketch& sketch, const std::vector<Stretch>& stretches);

/// Moves a curve to where a stretch lies; false where it is of another kind (the curve stays as it is).
bool lay(Sketch& sketch, int curve, const Stretch& where);

/// Replaces a figure by curves of their own, as it draws them now.
void break_up(Sketch& sketch, int figure);

} // namespace kervo::sketch
