// A stream over bytes that tells how much of them has been read.
#pragma once

#include "base/progress.h"

#include <algorithm>
#include <istream>
#include <streambuf>
#include <string>

namespace kervo::io {

/// Gives out bytes piece by piece and tells how far it is, up to a half of all the work: a reader that goes round in a
/// circle asks for no more, and tells nothing.
class ToldBuffer : public std::streambuf {
public:
    ToldBuffer(const std::string& bytes, Progress& progress) : bytes_(bytes), progress_(progress) { give(0); }

protected:
    int_type underflow() override {
        const size_t at = position();
        if (at >= bytes_.size()) {
            return traits_type::eof();
        }
        give(at);
        progress_.report(0.5 * static_cast<double>(at) / static_cast<double>(bytes_.size()), "read");
        return traits_type::to_int_type(*gptr());
    }
    pos_type seekoff(off_type by, std::ios_base::seekdir from, std::ios_base::openmode /*which*/) override {
        const auto base = from == std::ios_base::beg   ? 0
                          : from == std::ios_base::cur ? static_cast<off_type>(position())
                                                       : static_cast<off_type>(bytes_.size());
        return seekpos(base + by, std::ios_base::in);
    }
    pos_type seekpos(pos_type to, std::ios_base::openmode /*which*/) override {
        if (to < 0 || to > static_cast<off_type>(bytes_.size())) {
            return static_cast<off_type>(-1);
        }
        give(static_cast<size_t>(static_cast<off_type>(to)));
        return to;
    }

private:
    [[nodiscard]] size_t position() const { return static_cast<size_t>(gptr() - bytes_.data()); }
    void give(size_t at) {
        constexpr size_t piece = 1U << 16U;
        char* start = const_cast<char*>(bytes_.data()); // a stream that is read leaves it alone
        setg(start + at, start + at, start + std::min(bytes_.size(), at + piece));
    }

    const std::string& bytes_;
    Progress& progress_;
};

class ToldStream : private ToldBuffer, public std::istream {
public:
    ToldStream(const std::string& bytes, Progress& progress) : ToldBuffer(bytes, progress), std::istream(this) {}
};

} // namespace kervo::io
