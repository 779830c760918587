// What a sketch draws, as writers of outlines want it.
#pragma once

#include "sketch/figures.h"

namespace kervo::io {

struct DrawnOutlines {
    std::vector<sketch::FilledOutline> shapes; ///< each curve by itself, what a figure fills together
    std::vector<sketch::Stretch> guides;
};

DrawnOutlines drawn_outlines(const sketch::Sketch& drawing);

} // namespace kervo::io
