// What a step sweeps: a region of its sketch, a hole, a core; to make a body of, or to cut with. Bodies and blades that
// cut come in the same form.
#pragma once

#include "geom/cut/straight_cut.h"

#include <gp_Trsf.hxx>

#include <functional>
#include <memory>
#include <mutex>
#include <optional>

namespace kervo::model {

struct Body;
using BodyPtr = std::shared_ptr<const Body>;

/// A region swept to a solid, which is built when it is first asked for: a straight cut does without. Never changed
/// once made; copies share the solid.
class SweptRegion {
public:
    SweptRegion(std::string region, geom::ShapeWithRoles solid);
    SweptRegion(std::string region, geom::StraightCutter cutter, bool turned_over);
    /// A prism between planes of which one slopes, whose solid is there.
    SweptRegion(std::string region, std::optional<geom::StraightCutter> cutter, bool turned_over,
                geom::ShapeWithRoles solid);

    std::string key;                              ///< of the region
    std::optional<geom::StraightCutter> straight; ///< where it is a prism
    bool down = false;                            ///< it starts at its high end
    std::string front_key;                        ///< pieces that lie at its face "front", but not at its "back", are
                                                  ///< told by this key; empty: none are

    /// Makes it anew from a profile `scale` times as large in its plane, about the middle of its area; all else stays.
    /// Empty: it is of no profile.
    std::function<Result<SweptRegion>(double scale)> with_profile;

    /// Where it passes through everything: the same, passing through these bodies as well where `move` puts it; nothing
    /// where it does so as it is. Empty: it ends where it ends.
    std::function<Result<std::optional<SweptRegion>>(const gp_Trsf& move, const std::vector<BodyPtr>& bodies)> beyond;

    [[nodiscard]] const geom::ShapeWithRoles& solid() const;
    /// It divides by a surface of its own, not by being somewhere.
    [[nodiscard]] bool is_blade() const;
    /// Faces alone, which curves sweep or a body has.
    [[nodiscard]] bool is_surface() const;
    /// Edges alone, which divide surfaces that they lie on, and no solids.
    [[nodiscard]] bool is_curves() const;

    /// The same elsewhere, `scale` times as large: of a profile, that in its plane; else all of it about its own
    /// middle. What it makes is called after the copy: "side/c5@2". Findings: those of making it anew.
    [[nodiscard]] Result<SweptRegion> copied(const gp_Trsf& move, double scale, const std::string& copy) const;
    /// The same, passing through these bodies where the original passed through everything.
    [[nodiscard]] Result<SweptRegion> copied_through(const gp_Trsf& move, double scale, const std::string& copy,
                                                     const std::vector<BodyPtr>& bodies) const;

private:
    struct Built {
        std::once_flag once;
        geom::ShapeWithRoles solid;
    };
    std::shared_ptr<Built> built_;
};
using SweptRegions = std::vector<SweptRegion>;
using SweptRegionsPtr = std::shared_ptr<const SweptRegions>;

} // namespace kervo::model
