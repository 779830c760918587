// Import: bodies from a file that the document keeps as it was read.
#pragma once

#include "model/route/step_context.h"

namespace kervo::model {

struct Import {
    static constexpr const char* kind = "import";
    static constexpr const char* title = "Import";
    static constexpr const char* summary = "Brings in bodies from a STEP or BREP file, with their names and colours.";

    AssetLink file;
    Choice solids{"apart"};

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        visit(FieldInfo("file", "File", Question::source,
                        "STEP (.step, .stp) or BREP (.brep). The document keeps a copy."),
              self.file);
        visit(FieldInfo("solids", "Its solids", Question::source, "What becomes of them.")
                  .one_of({{"apart", "Become a body each"}, {"together", "Are lumps of one body"}}),
              self.solids);
    }

    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const;
    friend bool operator==(const Import&, const Import&) = default;
};

} // namespace kervo::model
