// The document: definitions only, no shapes. It is an immutable value with shared parts: every edit makes a new one,
// undo keeps the old one, and what two documents share is shared in memory too.
#pragma once

#include "base/parameters.h"
#include "model/document/looking.h"
#include "model/document/sorting.h"
#include "model/steps/registry.h"

#include <map>
#include <memory>

namespace kervo::model {

struct Step {
    int id = 0;     ///< never changes, never used twice in a document
    int number = 0; ///< 10, 20, 30 ...: what people read; follows the order of the route
    std::string name;
    std::string note;
    bool suspended = false;
    std::string layer;              ///< on which the bodies that it makes lie, until the user moves them
    std::optional<bool> shown = {}; ///< of a sketch: whether it is seen in the model; unsaid: while no step uses it
    StepDefinition definition;
    friend bool operator==(const Step&, const Step&) = default;
};
using StepPtr = std::shared_ptr<const Step>;

enum class Showing {
    full,
    see_through,
    edges, ///< its edges only
    aside  ///< pale, and out of the way of picks
};
std::string to_string(Showing showing);
std::optional<Showing> showing_from(const std::string& text);

/// How a body is called, shown and sorted. Empty strings: as the step that makes it suggests.
struct Appearance {
    std::string name;
    std::string color; ///< "#rrggbb"
    std::string layer;
    bool hidden = false;
    Showing showing = Showing::full;
    int group = 0;             ///< 0: that of the body that it came from; -1: none
    std::string material = {}; ///< of the document's table; empty: none is said
    friend bool operator==(const Appearance&, const Appearance&) = default;
};

/// Bodies that are held together without being united.
struct Group {
    int id = 0;
    std::string name;
    int within = 0; ///< the group that holds it; 0: none
    friend bool operator==(const Group&, const Group&) = default;
};

struct Layer {
    std::string name;
    bool hidden = false;
    bool locked = false; ///< its bodies cannot be picked in the model
    friend bool operator==(const Layer&, const Layer&) = default;
};

struct Document {
    std::string title = "Untitled";
    std::string unit = "mm"; ///< lengths are shown in it
    int last_id = 0;         ///< highest step id ever given: ids of deleted steps are not given again
    int last_group = 0;      ///< the same for groups
    std::vector<Parameter> parameters;
    std::vector<StepPtr> steps;
    std::map<BodyId, Appearance> appearance;
    std::vector<Group> groups;
    std::vector<Layer> layers;
    std::string current_layer; ///< of steps that are added; empty: none
    std::vector<Cutaway> cutaways;
    std::vector<Material> materials;
    std::vector<View> views;
    std::map<AssetName, AssetPtr, std::less<>> assets;

    [[nodiscard]] StepPtr step(int id) const;
    /// Position in the route; -1 when there is none of that id.
    [[nodiscard]] int index_of(int id) const;
};
using DocumentPtr = std::shared_ptr<const Document>;

/// Equal in content (assets by name and bytes).
bool same_content(const Document& a, const Document& b);

// --- Edits: each takes a document and gives a new one ------------------------------------------------------------

/// Adds a step at `position` (-1: at the end) and tells its id.
Document add_step(Document document, StepDefinition definition, const std::string& name, int position, int* id);
/// Adds a copy of a step behind it.
Document duplicate_step(Document document, int id, int* copy);
Document remove_step(Document document, int id);
/// Moves a step to a position in the route; the numbers follow the new order.
Document move_step(Document document, int id, int position);
Document change_step(Document document, int id, const std::function<void(Step&)>& change);
/// Whether a step has all answers that an offer would change.
bool can_take(const Document& document, const Offer& offer);
/// Answers as an offer says, as far as its step is asked for that.
Document take_offer(Document document, const Offer& offer);
Document change_field(Document document, int id, const std::string& key, const FieldValue& value);
/// Renames a parameter and rewrites every formula that reads it.
Document rename_parameter(Document document, const std::string& from, const std::string& to);
/// Steps and parameters that read the parameter, by name.
std::vector<std::string> uses_of_parameter(const Document& document, const std::string& name);

} // namespace kervo::model
