#include "model/steps/planned/planned.h"

#include "model/document/step_of.h"

namespace kervo::model {

template struct StepOf<Planned>;

} // namespace kervo::model
