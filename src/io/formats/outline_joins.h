// Ends that are meant to be one, and outlines that are drawn twice.
#pragma once

#include "sketch/figures.h"

#include <set>
#include <string>

namespace kervo::io {

/// Lines whose ends miss another end by less than 1e-5 mm are drawn to it, within and across chains; if there were
/// any, that is `told`. A gap like that is none for the regions of a sketch, but one for the bodies that are made of
/// them.
void join_ends(std::vector<sketch::ArtShape>& shapes, std::set<std::string>& told);

/// Equal for chains that run along each other from end to end, wherever they begin and whichever way they go: their
/// length, area, the middle of their line, and their box, to 1e-5 mm.
std::vector<long long> likeness_of(const std::vector<sketch::Stretch>& chain);

} // namespace kervo::io
