// Words of JSON schemas.
#pragma once

#include "io/document/document_json.h"

#include <string>
#include <vector>

namespace kervo::io {

inline Json object_of(Json properties, const std::vector<std::string>& required) {
    return {{"type", "object"},
            {"properties", std::move(properties)},
            {"required", required},
            {"additionalProperties", false}};
}
inline Json list_of(Json items) {
    return {{"type", "array"}, {"items", std::move(items)}};
}
inline Json text() {
    return {{"type", "string"}};
}
inline Json number() {
    return {{"type", "number"}};
}
inline Json whole() {
    return {{"type", "integer"}};
}
inline Json truth() {
    return {{"type", "boolean"}};
}
inline Json numbers(int count) {
    return {{"type", "array"}, {"items", number()}, {"minItems", count}, {"maxItems", count}};
}

} // namespace kervo::io
