// The cutaways, materials and views of a document: whom cutaways concern, and edits.
#pragma once

#include "model/document/document.h"

namespace kervo::model {

/// Whether there is anything in it: sizes are above zero.
bool has_room(const Cutaway& cutaway);
/// Whether the cutaway, which is on and has room, opens a body that is in this group (0: none) and on this layer
/// (empty: none). What cuts is not opened by itself.
bool concerns(const Cutaway& cutaway, const Document& document, const BodyId& body, int group,
              const std::string& layer);
/// Those that are on and cut with this body, which is not shown then.
bool cuts_with(const std::vector<Cutaway>& cutaways, const BodyId& body);
/// How a member of a scope that is a layer is written.
std::string reference_to_layer(const std::string& name);
/// Nothing unless the text is written so.
std::optional<std::string> layer_of(const std::string& member);

/// Null where there is none of that letter.
const Cutaway* find_cutaway(const std::vector<Cutaway>& cutaways, const std::string& letter);
/// Null where there is none of that name.
const View* find_view(const Document& document, const std::string& name);
/// Null where there is none of that name.
const Material* find_material(const Document& document, const std::string& name);
/// The material that the document says a body is of; null where it says none.
const Material* material_of(const Document& document, const BodyId& body);
/// The next letter that no cutaway has: A to Z without I and O, which look like numbers; then AA, AB ...
std::string free_letter(const std::vector<Cutaway>& cutaways);

// --- Edits: each takes a document and gives a new one ------------------------------------------------------------

/// In place of the one of its letter, else behind all others.
Document put_cutaway(Document document, const Cutaway& cutaway);
Document remove_cutaway(Document document, const std::string& letter);
/// Says of one body whether the cutaway opens it, whatever its scope says of others: a scope of all becomes one of all
/// but those.
Cutaway with_body(Cutaway cutaway, const BodyId& body, bool opened);

/// A member of scopes is others now, or gone, in views too: a layer that was renamed, a group that was dissolved.
Document replace_member(Document document, const std::string& member, const std::vector<std::string>& by);

/// In place of the one of the name `from`, whose bodies are of it then; else (also where `from` is empty) behind all
/// others. Nothing changes where its name is empty, or is that of another one.
Document put_material(Document document, const std::string& from, const Material& material);
/// Bodies of it are of none then.
Document remove_material(Document document, const std::string& name);

/// What is seen now as a view: bodies and layers that are hidden, ways of showing, cutaways. The camera is the
/// caller's.
View view_of(const Document& document, const std::string& name);
/// Bodies, layers and cutaways as the view has them.
Document as_in_view(Document document, const View& view);
/// A name that no view has: `name`, or with a number behind.
std::string free_view_name(const Document& document, const std::string& name);

} // namespace kervo::model
