#include "model/names/words.h"

namespace kervo::model {

namespace {

// Numbers of curves and of faces in a file say nothing to those who look at the model.
bool says_something(const std::string& words) {
    for (const char* number : {"side", "curve ", "face ", "start face", "end face"}) {
        if (words.starts_with(number)) {
            return false;
        }
    }
    return true;
}

} // namespace

std::string face_in_words(const FaceName* name, const geom::Look& look, const std::string& unit) {
    const std::string looks = geom::in_words(look, unit);
    if (name == nullptr) {
        return looks;
    }
    FaceName whole = *name;
    whole.parts.clear();
    const std::string made = describe_face(whole);
    if (!says_something(made)) {
        return looks;
    }
    const size_t comma = looks.rfind(", ");
    return name->parts.empty() || comma == std::string::npos ? made
                                                             : made + looks.substr(comma); // which part: how large
}

std::string edge_in_words(const std::vector<std::string>& beside, const geom::Look& look, const std::string& unit) {
    std::vector<std::string> made;
    for (const std::string& name : beside) {
        FaceName whole = FaceName::parse(name);
        whole.parts.clear();
        if (std::string words = describe_face(whole); says_something(words)) {
            made.push_back(std::move(words));
        }
    }
    const std::string looks = geom::in_words(look, unit);
    if (made.size() == 2) {
        return made[0] + " and " + made[1] + looks.substr(looks.rfind(", "));
    }
    return made.empty() ? looks : looks + ", " + made.front();
}

} // namespace kervo::model
