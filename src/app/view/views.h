// Views that are kept: where from one looks, and what is shown then. Going to one is an edit like any other; the camera
// is nobody's but the window's.
#pragma once

#include "app/verbs/verbs.h"
#include "app/view/viewport.h"

namespace kervo::app {

class Views : public QObject {
    Q_OBJECT
public:
    Views(Session& session, Viewport& viewport, QObject* parent);
    /// What it adds to the bar and the shortcuts.
    std::vector<Verb> verbs();

    /// The one that was gone to or kept last; empty: none, or it is gone.
    [[nodiscard]] std::string current() const;
    void keep();
    void go_to(const std::string& name);
    /// The next one (1) or the one before (-1), round and round.
    void step(int by);
    /// As things are seen now.
    void update(const std::string& name);
    void rename(const std::string& from, const std::string& to);
    void annotate(const std::string& name, const std::string& note);
    /// One up (-1) or down (1) in their order.
    void move(const std::string& name, int by);
    void remove(const std::string& name);

signals:
    void current_changed();

private:
    void change(const std::string& name, const std::function<void(model::View&)>& how);

    Session& session_;
    Viewport& viewport_;
    std::string current_;
};

} // namespace kervo::app
