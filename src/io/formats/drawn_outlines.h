// What a sketch draws, as writers of outlines want it.
#pragma once

#include "sketch/figures.h"

namespace kervo::io {

struct DrawnOutlines {
    std::vector<sketch::FilledOutline> shapes; ///< each curve by itself, what a figure fills together
    std::vector<sketch::Stretch> guides;
};

DrawnOutlines drawn_outlines(const sketch::Sketch& drawing);

/// Stretches that run on into each other where no third one meets, as chains, turned to run one way.
std::vector<std::vector<sketch::Stretch>> chained(const std::vector<sketch::Stretch>& stretches);

} // namespace kervo::io
