// Every reader of what strangers may hand over, as a function over bytes, with what must hold whatever they are.
#pragma once

#include <functional>
#include <map>
#include <string>

namespace kervo::fuzz {

/// What does not hold; empty where all is well. Must not crash, hang or throw.
using Reader = std::function<std::string(const std::string& bytes)>;

/// document, container, journal, svg, dxf, csv, step, brep.
const std::map<std::string, Reader>& readers();

} // namespace kervo::fuzz
