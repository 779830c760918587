// Planned: a step that is named and noted down before it is worked out. The next verb that is started on it makes it a
// step of another kind, in the same place.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct Planned {
    static constexpr const char* kind = "planned";
    static constexpr const char* title = "Planned";
    static constexpr const char* summary = "A step that is still to come: it has a place, a name and a note.";

    template <class Self, class Visit> static void fields(Self& /*self*/, Visit&& /*visit*/) {}

    [[nodiscard]] static StepOutput evaluate(const StepInputs& /*inputs*/) { return {}; }
    friend bool operator==(const Planned&, const Planned&) = default;
};

} // namespace kervo::model
