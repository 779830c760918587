// What a step sees when it is evaluated, and what it hands back. A step sees only what its field list says it reads.
#pragma once

#include "base/progress.h"
#include "geom/kernel/space.h"
#include "model/cutting/pieces.h"
#include "model/cutting/swept_region.h"
#include "model/document/asset_name.h"
#include "model/document/fields.h"
#include "model/document/sorting.h"
#include "model/names/names.h"
#include "sketch/solve.h"

#include <functional>
#include <map>
#include <memory>

namespace kervo::model {

/// A file that belongs to the document, byte for byte as it was read. `missing`: the document names it, but it is gone.
struct Asset {
    AssetName name;
    std::string bytes;
    bool missing = false;
};
using AssetPtr = std::shared_ptr<const Asset>;

/// What an import file holds.
struct ImportedBody {
    std::string name;
    std::string color;  ///< "#rrggbb", empty when the file says none
    TopoDS_Shape shape; ///< placed where the assembly puts it
    bool sound = true;  ///< the kernel's check finds nothing wrong with it
    Sorting sorting = {};
};
struct ImportedFile {
    std::vector<ImportedBody> bodies;
    std::vector<std::string> not_followed; ///< names of other files that this one refers to; they are not read
    std::vector<std::string> left_out =
        {}; ///< what else the file holds that did not come in: "colours of single faces"
};
using ImportReader = std::function<Result<ImportedFile>(const Asset&, Progress&)>;

/// What the outside world does for the evaluation.
struct Services {
    ImportReader read_import;
};

/// A solved sketch on its plane.
struct SketchResult {
    gp_Ax3 frame;
    sketch::Solution solution;
    std::vector<sketch::Region> regions;
    std::map<int, std::vector<int>> covered; ///< by figure: indices of the regions that it covers

    /// The frame, for those who know no kernel.
    [[nodiscard]] Frame3 plane() const { return geom::plain(frame); }
    /// Indices of the regions that a reference means now.
    [[nodiscard]] std::vector<int> meant_by(const sketch::RegionReference& reference) const;
};
using SketchResultPtr = std::shared_ptr<const SketchResult>;

struct StepInputs {
    int step = 0; ///< its id
    std::map<BodyId, BodyPtr> bodies;
    std::map<int, SketchResultPtr> sketches;
    std::map<int, SweptRegionsPtr> sweeps; ///< by step
    std::map<std::string, AssetPtr> assets;
    const ParameterValues* parameters = nullptr;
    const Services* services = nullptr;
    Progress* progress = nullptr;
};

/// A body as a step would like it to be called and coloured, until the user says otherwise.
struct Birth {
    BodyId id;
    std::string name;
    std::string color;
    BodyId like = {}; ///< called as this one, with `name` behind, and coloured so
};

/// A dimension of the step as it stands on the model: the answer `field` is the distance from `start` to `end`, times
/// `factor`; where there is a `way` (a unit direction), that along it, which may be zero or less. Pulling `end` along
/// the line changes the answer.
struct PlacedDimension {
    std::string field;
    Place start{}, end{};
    double factor = 1;
    std::optional<Place> way = {};
    struct Dial {
        Place middle, axis;
    };
    std::optional<Dial> dial = {}; ///< the answer is the angle from `start` round the axis to `end`
};

/// Where a copy of a pattern stands, or would if it were not left out.
struct PlacedCopy {
    std::string name;
    Place at{};
    bool left_out = false;
};

/// Where something stands that the rows of a step call by a name.
struct NamedPlace {
    std::string name;
    Place at{};
    bool point = false; ///< else what runs between points, at its middle
};

/// The control points of a free-form surface, row by row. A point is called "p" and its row and column, from 1: "p2_3".
struct ControlNet {
    int rows = 0, columns = 0;
    bool rows_close = false, columns_close = false; ///< the last row, the last column is followed by the first
    std::vector<Place> points;                      ///< rows times columns
    std::vector<std::vector<Place>> lines;          ///< of equal parameter, between patches

    [[nodiscard]] const Place& at(int row, int column) const {
        return points[static_cast<size_t>(row) * static_cast<size_t>(columns) + static_cast<size_t>(column)];
    }
};

/// A reference made by hand, and the name it was resolved to.
struct Learned {
    std::string field;
    size_t index = 0;
    Reference reference;
};

struct StepOutput {
    std::map<BodyId, BodyPtr> bodies; ///< those it made or changed; null: used up
    std::vector<Birth> births;
    std::map<BodyId, Sorting> sorting; ///< of imported bodies, where their file says any
    SketchResultPtr sketch;
    SweptRegionsPtr swept; ///< what it made bodies of or cut with, for steps that repeat it
    std::vector<Piece> pieces;
    std::vector<PlacedDimension> dimensions;
    std::vector<PlacedCopy> copies;
    std::vector<NamedPlace> named;
    std::optional<ControlNet> net;
    std::vector<geom::Blade> blades;          ///< those that cut in this step, for the picture
    double removed = 0;                       ///< mm^3
    double added = 0;                         ///< mm^3
    double imbalance = 0;                     ///< largest relative imbalance of its cuts
    std::map<std::string, Quantity> measured; ///< values of parameters, by name
    std::map<std::string, std::string> facts; ///< for reports: what else there is to tell, as "thread": "M6"
    std::vector<Learned> learned;
    std::optional<RegionReferences> named_regions; ///< the field "regions", where some were made by hand
    Findings findings;

    /// Books the difference of the volumes as removed or added.
    void count_change(const Body& before, const Body& after);
};

/// Helps a step's evaluation to read its answers: every problem becomes a finding on the right field.
class Answers {
public:
    Answers(const StepInputs& inputs, StepOutput& output) : inputs_(inputs), output_(output) {}

    /// Value of a formula in mm, rad or as a number; 0 and a finding when it has none.
    double number(const char* field, const Expression& expression, const Dimension& dimension);
    /// The same; the formula may also read `own` names.
    double number(const char* field, const Expression& expression, const Dimension& dimension,
                  const ParameterValues& own);
    /// The same; a value that is not above zero is a finding.
    double positive(const char* field, const Expression& expression);
    /// How firmly a surface keeps its way off where it begins: 0.01 to 10, else the finding span.firmness.
    double firmness(const char* field, const Expression& expression);
    /// The element of the first reference; null and a finding when there is none.
    TopoDS_Shape element(const char* field, const References& references);
    struct Picked {
        BodyId body;
        TopoDS_Shape element;
        Expression own; ///< its own answer; empty: as all
    };
    /// The elements of all references that are found; a finding for each that is not, and where there is none.
    using Elements = std::vector<Picked>;
    Elements elements(const char* field, const References& references);
    /// A line through the origin along x, y or z, as `choice` says, or else that of the element: of a straight or round
    /// edge or a round face its axis, of a flat face its normal. Finding: step.no_direction.
    gp_Ax1 axis(const char* field, const Choice& choice, const References& element);
    /// The body of the first reference; null and a finding when there is none.
    BodyPtr picked_body(const char* field, const References& references);
    /// All bodies that are referred to, each once; a finding for each that is not there, and where there is none.
    std::vector<BodyPtr> bodies(const char* field, const References& references);
    /// The sketch of a link; null and the finding profile.no_sketch when there is none.
    SketchResultPtr sketch(const char* field, const SketchLink& link);
    /// What the step of a link swept; null and the finding repeat.no_step when there is nothing.
    SweptRegionsPtr swept(const char* field, const SweepLink& link);
    [[nodiscard]] BodyPtr body(const BodyId& id) const;
    [[nodiscard]] Progress& progress() const { return *inputs_.progress; }
    void report(const char* field, Finding finding);
    [[nodiscard]] bool ok() const { return !has_error(output_.findings); }

private:
    TopoDS_Shape element(const char* field, const References& references, size_t index);
    void check_twin(const char* field, const References& references, size_t index, const Body& body);

    const StepInputs& inputs_;
    StepOutput& output_;
};

} // namespace kervo::model
