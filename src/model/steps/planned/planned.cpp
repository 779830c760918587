#include "model/steps/planned/planned.h"

#include "model/step_of.h"

namespace kervo::model {

template struct StepOf<Planned>;

} // namespace kervo::model
