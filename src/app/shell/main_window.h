// The window: verbs above, contents and parameters at the left, the model in the middle, the route at the right, the
// status line below.
#pragma once

#include "app/cards/route_panel.h"
#include "app/contents/contents_panel.h"
#include "app/contents/cutaway_card.h"
#include "app/contents/parameters_panel.h"
#include "app/drawing/tool_strip.h"
#include "app/look/one_line.h"
#include "app/shell/find_verb.h"
#include "app/shell/history_buttons.h"
#include "app/shell/notice_bar.h"
#include "app/shell/start_sheet.h"

#include <QMainWindow>
#include <QProgressBar>

namespace kervo::app {

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    MainWindow();
    ~MainWindow() override;
    MainWindow(const MainWindow&) = delete;
    MainWindow& operator=(const MainWindow&) = delete;

    [[nodiscard]] Session& session() { return session_; }
    [[nodiscard]] Viewport& viewport() { return *viewport_; }
    /// Runs a verb by its id; false when it is not possible now.
    bool run_verb(const QString& id);
    [[nodiscard]] const std::vector<Verb>& verbs() const { return verbs_; }
    /// Opens a file and says what went wrong, if anything, in the status line and a message.
    bool open_file(const QString& path);
    bool save_file(const QString& path);
    bool hand_over_file(const QString& path, const io::ExportOptions& options = {});
    bool import_file(const QString& path);
    void set_dark(bool dark);

protected:
    void closeEvent(QCloseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void changeEvent(QEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void connect_all();
    void fit_to_screen();
    void build_verbs();
    std::vector<Verb> file_verbs();
    std::vector<Verb> marker_verbs();
    std::vector<Verb> hand_over_verbs();
    std::vector<Verb> window_verbs();
    [[nodiscard]] QString ask_where_to_write(const QString& title, io::Content content);
    /// Whether a sketch is being drawn.
    [[nodiscard]] std::function<bool()> draws() const;
    void build_bar();
    void build_status();
    void build_sheet();
    void refresh_title();
    void tell(const QString& line);
    void tell_problem(const Finding& finding);
    void show_dependencies();
    bool keep_changes();
    bool save_over_others(const QString& path, const Finding& problem);
    void open_theirs();
    void take_dropped(const QString& path);
    /// Among the documents worked on lately, with the picture as it is now.
    void remember();
    [[nodiscard]] std::string preview();

    Theme theme_;
    Session session_;
    Viewport* viewport_;
    ContentsPanel* contents_;
    CutawayCard* cutaway_;
    ParametersPanel* parameters_;
    RoutePanel* route_;
    NoticeBar* notice_;
    QWidget* bar_;
    QWidget* sheet_ = nullptr;
    StartSheet* start_ = nullptr;
    ToolStrip* strip_ = nullptr;
    HistoryButtons* history_ = nullptr;
    QLabel* title_;
    QLabel* marker_;
    OneLine* hint_;
    QLabel* over_;
    QLabel* where_;
    QLabel* unit_;
    QPushButton* findings_;
    QProgressBar* progress_;
    QPushButton* stop_;
    QTimer* busy_timer_;
    FindVerb* find_;
    std::vector<Verb> verbs_;
};

} // namespace kervo::app
