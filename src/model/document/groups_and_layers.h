// How bodies are held together and sorted: groups, which may hold groups, and layers.
//
// A step may mean a group; when it is evaluated, that stands for the bodies that are in the group then. What is made of
// a body in a group (pieces set apart, copies) is in it too, unless the user says otherwise.
#pragma once

#include "model/document/document.h"

#include <functional>
#include <set>

namespace kervo::model {

/// Null where there is none of that id.
const Group* find_group(const Document& document, int id);
/// Whether `group` is `outer`, or lies in it however deep.
bool lies_in(const Document& document, int group, int outer);
/// The outermost group around a group that is not `outer` itself, nor around it: `group` seen from within `outer`
/// (0: from outside of all). 0 where it does not lie in there.
int seen_from(const Document& document, int group, int outer);

/// The definition with every group that it means replaced by what is in it; a group in which nothing is stays.
StepDefinition without_groups(StepDefinition definition, const std::function<std::vector<BodyId>(int group)>& members);
bool means_groups(const StepDefinition& definition);
/// The bodies that the document itself puts into the group or into one that it holds, whether they exist or not.
std::vector<BodyId> said_members(const Document& document, int group);

// --- Edits: each takes a document and gives a new one ------------------------------------------------------------

/// A new group of these bodies and groups, in the group that they all were in (else in none). Its id goes to `id`.
Document make_group(Document document, const std::vector<BodyId>& bodies, const std::vector<int>& groups,
                    const std::map<BodyId, int>& now, const std::string& name, int* id);
/// What was in the group is in the one around it then; steps that mean it mean what is said to be in it.
Document dissolve_group(Document document, int group, const std::map<BodyId, int>& now);
/// 0: out of all groups. A group cannot come into itself or into one that it holds; then nothing changes.
Document put_into_group(Document document, const std::vector<BodyId>& bodies, const std::vector<int>& groups,
                        int target);
/// Bodies sorted as their file has them, in groups and layers that are made where they are missing. Those of which the
/// document says a group, a layer or that they are hidden stay as they are.
Document sort_as_in_file(Document document, const std::map<BodyId, Sorting>& sorting);
/// Whether that changes anything.
bool can_be_sorted(const Document& document, const std::map<BodyId, Sorting>& sorting);
Document rename_group(Document document, int group, const std::string& name);

/// A layer of a name that is not taken: `name`, or with a number behind.
Document add_layer(Document document, const std::string& name, std::string* added);
/// Steps and bodies go with it. Nothing changes where the name is empty or taken.
Document rename_layer(Document document, const std::string& from, const std::string& to);
/// What lies on it lies on none then.
Document remove_layer(Document document, const std::string& name);
Document change_layer(Document document, const std::string& name, const std::function<void(Layer&)>& change);
/// Null where there is none of that name.
const Layer* find_layer(const Document& document, const std::string& name);

/// What the document says of the body's look; all by default where it says nothing.
const Appearance& look_of(const Document& document, const BodyId& body);
/// Whether it is a reference to the body (or an element of it), which is in `group`, or to a group that this lies in.
bool refers_to(const Document& document, const Reference& reference, const BodyId& body, int group);

/// By itself or with its layer.
bool is_hidden(const Document& document, const BodyId& body, const std::string& layer);
/// Sketches that are seen in the model: as the user says, else those that no step uses.
std::set<int> sketches_shown(const Document& document);
/// Whether the body can be picked in the model: not on a locked layer, not set aside.
bool can_be_picked(const Document& document, const BodyId& body, const std::string& layer);

} // namespace kervo::model
