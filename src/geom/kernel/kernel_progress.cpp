#include "geom/kernel/kernel_progress.h"

namespace kervo::geom {

void KernelProgress::Show(const Message_ProgressScope& /*scope*/, Standard_Boolean /*force*/) {
    progress_.report(GetPosition(), {});
}

} // namespace kervo::geom
