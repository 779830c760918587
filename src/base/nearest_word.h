// The word that somebody may have meant.
#pragma once

#include <string>
#include <vector>

namespace kervo {

/// The known word that the fewest letters put in, left out, changed or swapped make of `word`, at most a third of them;
/// empty where none is so near. Capitals do not count.
std::string nearest_word(const std::string& word, const std::vector<std::string>& known);

/// “; did you mean “...”?”, or nothing where no known word is near.
std::string did_you_mean(const std::string& word, const std::vector<std::string>& known);

} // namespace kervo
