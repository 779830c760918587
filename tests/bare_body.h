// A body of any shape, for tests that need no step to make it.
#pragma once

#include "model/names/names.h"

namespace kervo::test {

/// Its faces are called "10:face1", "10:face2" ... in their order.
inline model::BodyPtr bare_body(const TopoDS_Shape& shape) {
    auto body = std::make_shared<model::Body>();
    body->shape = shape;
    body->index = std::make_shared<geom::LazyIndex>(shape);
    int number = 0;
    for (const TopoDS_Shape& face : geom::faces_of(shape)) {
        body->names.Bind(face, {"10:face" + std::to_string(++number), {}});
    }
    return body;
}

} // namespace kervo::test
