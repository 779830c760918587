// Drives the real window by real events: everything goes through the window system's side of Qt, as a hand would.
#pragma once

#include "app/shell/main_window.h"
#include "app/view/tools/dimension_tool.h"
#include "app/view/tools/sketch_tool.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QMenu>
#include <QStandardPaths>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTest>
#include <QTreeWidget>

#include <functional>
#include <source_location>

namespace kervo::app::test {

/// The demo in a folder of its own, so that nothing is written beside the original.
inline QString demo_copy(const QTemporaryDir& folder) {
    const QString path = folder.filePath("document.json");
    QFile::copy(QStringLiteral(KERVO_SOURCE "/demo/azimuth-table/document.json"), path);
    QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner);
    return path;
}

inline bool near(double value, double wanted, double relative = 1e-9) {
    return std::abs(value - wanted) <= relative * std::max(1.0, std::abs(wanted));
}

/// Settings and journals of earlier runs are gone.
inline void start_clean() {
    QStandardPaths::setTestModeEnabled(true);
    QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation)).removeRecursively();
}

/// A window on the screen, with the verbs of a hand: click, type, press.
class Hand {
public:
    Hand() {
        window_.resize(1280, 800);
        window_.show();
        must(QTest::qWaitForWindowExposed(&window_));
        activate();
        settle();
    }
    MainWindow& window() { return window_; }
    /// Where no window manager does it, a window must be told that it is the active one, also after a dialog.
    void activate() {
        QApplication::setActiveWindow(&window_);
        model().setFocus();
        QTest::qWait(20);
    }
    Session& session() { return window_.session(); }
    Viewport& model() { return window_.viewport(); }
    const kervo::model::Document& document() { return session().document(); }
    /// The sketch in hand.
    Drawing& pen() { return model().tool<SketchTool>().drawing(); }
    DimensionTool& dimensions() { return model().tool<DimensionTool>(); }
    const std::vector<kervo::model::Reference>& selection() { return model().hand().selection(); }

    /// Waits until all work is done and shown.
    void settle() {
        must(QTest::qWaitFor([this] { return session().settled(); }, 60000));
        QTest::qWait(5);
    }

    void press(QWidget* widget, const QPoint& at, Qt::MouseButton button = Qt::LeftButton,
               Qt::KeyboardModifiers modifiers = {}) {
        QTest::mouseMove(widget->window()->windowHandle(), widget->mapTo(widget->window(), at));
        QTest::mouseClick(widget->window()->windowHandle(), button, modifiers, widget->mapTo(widget->window(), at));
    }
    void press(QWidget* widget) { press(widget, widget->rect().center()); }
    /// Clicks a place in the model, given in mm.
    void press_model(double x, double y, double z, Qt::KeyboardModifiers modifiers = {}) {
        press(&model(), model().place_of(Point3(x, y, z)).toPoint(), Qt::LeftButton, modifiers);
        settle();
    }
    void press_sketch(double x, double y) {
        press(&model(), model().place_on_sketch({x, y}).toPoint());
        settle();
    }
    void point_at_sketch(double x, double y) {
        const QPoint at = model().place_on_sketch({x, y}).toPoint();
        QTest::mouseMove(window_.windowHandle(), model().mapTo(&window_, at));
        QTest::qWait(20);
    }
    void drag(const QPointF& from, const QPointF& to, Qt::MouseButton button = Qt::LeftButton,
              Qt::KeyboardModifiers modifiers = {}) {
        const auto place = [&](const QPointF& p) { return model().mapTo(&window_, p.toPoint()); };
        QTest::mousePress(window_.windowHandle(), button, modifiers, place(from));
        for (int i = 1; i <= 8; ++i) {
            QTest::mouseMove(window_.windowHandle(), place(from + (to - from) * i / 8.0));
            QTest::qWait(5);
        }
        QTest::mouseRelease(window_.windowHandle(), button, modifiers, place(to));
        settle();
    }
    void key(int key, Qt::KeyboardModifiers modifiers = {}) {
        QTest::keyClick(window_.windowHandle(), static_cast<Qt::Key>(key), modifiers);
        settle();
    }
    void type(const QString& text) {
        for (const QChar c : text) {
            QTest::keyClick(window_.windowHandle(), c.toLatin1());
        }
        QTest::qWait(10);
    }

    /// Opens what is folded away on the card, by clicks.
    void unfold_card() {
        for (int lines = 0; lines < 8; ++lines) {
            QWidget* folded = nullptr;
            for (QWidget* line : window_.findChildren<QWidget*>("folded")) {
                folded = line->isVisible() ? line : folded;
            }
            if (folded == nullptr) {
                return;
            }
            reveal(folded);
            press(folded);
            QTest::qWait(10);
        }
    }
    template <class Widget> Widget* seen(const QString& name) {
        for (Widget* widget : window_.findChildren<Widget*>(name)) {
            if (widget->isVisible()) {
                return widget;
            }
        }
        return nullptr;
    }
    template <class Widget> Widget* find(const QString& name) {
        if (Widget* widget = seen<Widget>(name)) {
            return widget;
        }
        unfold_card();
        if (Widget* widget = seen<Widget>(name)) {
            return widget;
        }
        qFatal("there is no %s on the screen", qPrintable(name));
        return nullptr;
    }
    QWidget* named(const QString& accessible_name) {
        for (int tries = 0; tries < 2; ++tries) {
            for (QWidget* widget : window_.findChildren<QWidget*>()) {
                if (widget->isVisible() && widget->accessibleName() == accessible_name) {
                    return widget;
                }
            }
            unfold_card();
        }
        qFatal("there is nothing called %s on the screen", qPrintable(accessible_name));
        return nullptr;
    }
    /// Scrolls until the widget can be clicked.
    void reveal(QWidget* widget) {
        for (QWidget* up = widget->parentWidget(); up != nullptr; up = up->parentWidget()) {
            if (auto* scroll = qobject_cast<QScrollArea*>(up)) {
                scroll->ensureWidgetVisible(widget);
            }
        }
        QTest::qWait(10);
    }
    /// Puts a text into a field as a user does: click, select all, type.
    void fill(const QString& name, const QString& text) {
        auto* field = find<QLineEdit>(name);
        reveal(field);
        press(field);
        key(Qt::Key_A, Qt::ControlModifier);
        type(text);
        key(Qt::Key_Tab);
    }
    /// Chooses in a combo box by keyboard.
    void choose(const QString& name, const QString& text) {
        auto* box = find<QComboBox>(name);
        reveal(box);
        box->setFocus(Qt::TabFocusReason);
        const int wanted = box->findText(text, Qt::MatchStartsWith);
        if (wanted < 0) {
            QStringList offered;
            for (int i = 0; i < box->count(); ++i) {
                offered << box->itemText(i);
            }
            qFatal("%s is not among: %s", qPrintable(text), qPrintable(offered.join("; ")));
        }
        for (int steps = 0; box->currentIndex() != wanted && steps < 100; ++steps) {
            key(box->currentIndex() < wanted ? Qt::Key_Down : Qt::Key_Up);
            box = find<QComboBox>(name);
        }
        settle();
    }
    void press_button(const QString& text) {
        for (int tries = 0; tries < 2; ++tries) {
            for (QPushButton* button : window_.findChildren<QPushButton*>()) {
                if (button->isVisible() && button->text() == text) {
                    reveal(button);
                    press(button);
                    settle();
                    return;
                }
            }
            unfold_card();
        }
        qFatal("there is no button %s on the screen", qPrintable(text));
    }
    /// Runs a verb as a user who does not know its key: Space, a part of its name, Enter.
    void find_verb(const QString& words) {
        model().setFocus();
        key(Qt::Key_Space);
        type(words);
        key(Qt::Key_Return);
    }
    /// Takes up a tool by its short name: from the strip beside the drawing, where it may stand behind another.
    void tool(const QString& name) {
        const auto& all = draw_tools();
        const auto info = std::find_if(all.begin(), all.end(), [&](const auto& each) { return each.title == name; });
        must(info != all.end());
        const auto* strip = window_.findChild<ToolStrip*>();
        auto* button = strip->button_for(info->tool);
        must(button != nullptr && button->isVisible());
        if (strip->on_top(button) != info->tool) {
            take_from_next_menu(info->verb);
            press(button, button->rect().center(), Qt::RightButton);
        } else {
            press(button);
        }
        settle();
        must(pen().tool() == info->tool);
    }
    void open_step(int number) {
        for (const auto& step : document().steps) {
            if (step->number == number) {
                auto* row = find<QPushButton>(QString("step_%1").arg(step->id));
                reveal(row);
                press(row, QPoint(60, row->height() / 2));
                QTest::qWait(20);
                settle();
            }
        }
    }
    /// Does something as soon as a condition holds, while an event loop of the window's runs (a menu, a dialog).
    void when(const std::function<bool()>& condition, const std::function<void()>& then) {
        auto* timer = new QTimer(&window_);
        QObject::connect(timer, &QTimer::timeout, timer, [timer, condition, then] {
            if (condition()) {
                timer->stop();
                timer->deleteLater();
                then();
            }
        });
        timer->start(30);
    }
    /// Right click on a step's row, then an entry of its menu.
    void from_menu(int step, const QString& entry) {
        auto* row = find<QPushButton>(QString("step_%1").arg(step));
        reveal(row);
        take_from_next_menu(entry);
        press(row, QPoint(60, row->height() / 2), Qt::RightButton);
        settle();
    }
    /// Clicks an entry of the menu that opens next.
    void take_from_next_menu(const QString& entry) {
        const auto menu = [] { return qobject_cast<QMenu*>(QApplication::activePopupWidget()); };
        when([menu] { return menu() != nullptr; },
             [menu, entry] {
                 for (QAction* action : menu()->actions()) {
                     if (action->text() == entry) {
                         QTest::mouseClick(menu()->windowHandle(), Qt::LeftButton, {},
                                           menu()->actionGeometry(action).center());
                         return;
                     }
                 }
                 qFatal("no such entry: %s", qPrintable(entry));
             });
    }
    /// Answers the next file dialog, for opening or for saving: types a path and presses the button that accepts it,
    /// again until the dialog is gone, since a list of suggestions may take the first click. One that will not go is
    /// refused, so that a test fails instead of waiting for ever.
    void answer_file_dialog(const QString& path) {
        const auto dialog = [] { return qobject_cast<QFileDialog*>(QApplication::activeModalWidget()); };
        const auto accept = [dialog, path](const auto& again, int tries) -> void {
            if (dialog() == nullptr) {
                return;
            }
            if (tries == 0) {
                dialog()->reject();
                return;
            }
            auto* name = dialog()->findChild<QLineEdit*>("fileNameEdit");
            if (name->text() != path) {
                name->setFocus();
                QTest::keyClick(name, Qt::Key_A, Qt::ControlModifier);
                QTest::keyClicks(name, path);
            }
            auto* buttons = dialog()->findChild<QDialogButtonBox*>();
            for (const auto kind : {QDialogButtonBox::Open, QDialogButtonBox::Save}) {
                if (auto* button = buttons->button(kind); button != nullptr && button->isEnabled()) {
                    QTimer::singleShot(200, button, [button] { QTest::mouseClick(button, Qt::LeftButton); });
                }
            }
            QTimer::singleShot(400, dialog(), [again, tries] { again(again, tries - 1); });
        };
        when([dialog] { return dialog() != nullptr && dialog()->isVisible(); }, [accept] { accept(accept, 30); });
    }
    QTableWidget& parameters() { return *window_.findChild<QTableWidget*>(); }
    /// The row of the table that shows a parameter, a measured one too.
    int row_of(const QString& name) {
        for (int row = 0; row < parameters().rowCount(); ++row) {
            if (parameters().columnSpan(row, 0) == 1 && parameters().item(row, 0)->text() == name) {
                return row;
            }
        }
        qFatal("there is no parameter %s in the table", qPrintable(name));
        return -1;
    }
    /// Adds a parameter by keyboard.
    void add_parameter(const QString& name, const QString& formula) {
        model().setFocus();
        key(Qt::Key_P);
        type(name);
        key(Qt::Key_Return);
        parameters().setFocus();
        parameters().setCurrentCell(row_of(name), 1);
        key(Qt::Key_F2);
        key(Qt::Key_A, Qt::ControlModifier);
        type(formula);
        key(Qt::Key_Return);
    }
    /// Types into the table about the parameter of that number in the document: column 0 name, 1 formula.
    void set_cell(int parameter, int column, const QString& text) {
        const int row = row_of(QString::fromStdString(document().parameters[static_cast<size_t>(parameter)].name));
        parameters().scrollToItem(parameters().item(row, column));
        const QPoint at = parameters().visualItemRect(parameters().item(row, column)).center();
        QTest::mouseDClick(window_.windowHandle(), Qt::LeftButton, {}, parameters().viewport()->mapTo(&window_, at));
        settle();
        key(Qt::Key_A, Qt::ControlModifier);
        type(text);
        key(Qt::Key_Return);
    }
    void set_formula(int parameter, const QString& formula) { set_cell(parameter, 1, formula); }
    const kervo::model::StepOutput& output(int step) {
        const auto* report = session().report(step);
        must(report != nullptr && report->output != nullptr);
        return *report->output;
    }
    double volume(const std::string& body) {
        for (const auto& [id, shown] : session().picture()->after) {
            if (session().picture()->evaluation->traits.at(id).name == body) {
                return shown->volume;
            }
        }
        return -1;
    }
    /// Around the body as it is drawn: of one with flat faces exactly.
    Box3 box(const kervo::model::BodyId& id) {
        const auto shown = scene::find_body(session().picture()->after, id);
        must(shown != nullptr);
        return shown->mesh->box;
    }

    static void must(bool condition, const std::source_location& at = std::source_location::current()) {
        if (!condition) {
            qFatal("the window did not do what it should, line %u", at.line());
        }
    }

private:
    MainWindow window_;
};

/// The row of Contents with that name, in a group or not; null: there is none.
inline QTreeWidgetItem* row_called(Hand& hand, const QString& name) {
    const auto found = hand.window().findChild<QTreeWidget*>()->findItems(name, Qt::MatchExactly | Qt::MatchRecursive);
    return found.isEmpty() ? nullptr : found.front();
}
inline void press_row(Hand& hand, const QString& name, Qt::KeyboardModifiers modifiers = {},
                      Qt::MouseButton button = Qt::LeftButton) {
    auto* tree = hand.window().findChild<QTreeWidget*>();
    auto* row = row_called(hand, name);
    Hand::must(row != nullptr);
    tree->scrollToItem(row);
    hand.press(tree->viewport(), tree->visualItemRect(row).center(), button, modifiers);
    hand.settle();
}

/// What a program with tests of the window does.
template <class Test, class Application = QApplication> int run(int argc, char** argv) {
    ask_for_surface();
    Application application(argc, argv);
    dress_application();
    Test test;
    return QTest::qExec(&test, argc, argv);
}

} // namespace kervo::app::test
