// "1 step", "3 steps": counts in plain words.
#pragma once

#include <QString>

namespace kervo::app {

inline QString counted(qsizetype count, const QString& one, const QString& many) {
    return QString::number(count) + ' ' + (count == 1 ? one : many);
}

} // namespace kervo::app
