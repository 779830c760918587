// Lets the kernel's long algorithms ask whether they should stop.
#pragma once

#include "base/progress.h"

#include <Message_ProgressIndicator.hxx>

namespace kervo::geom {

class KernelProgress : public Message_ProgressIndicator {
public:
    explicit KernelProgress(Progress& progress) : progress_(progress) {}
    Standard_Boolean UserBreak() override { return progress_.cancelled(); }
    void Show(const Message_ProgressScope& scope, Standard_Boolean force) override;

private:
    Progress& progress_;
};

} // namespace kervo::geom
