// The rows of the open step in the model: points and what is made of them, under their names. A click on one gives it
// to the row that is being answered; clicks beside them stand points.
#pragma once

#include "app/view/tools/pulled_row.h"

namespace kervo::app {

class RowTool : public ViewTool {
    Q_OBJECT
public:
    using ViewTool::ViewTool;

    [[nodiscard]] bool in_use() const override;
    [[nodiscard]] QString hint() const override;
    [[nodiscard]] std::optional<QCursor> cursor() const override;
    [[nodiscard]] std::optional<LooksFor> looks_for() const override;
    bool press(const Pointer& pointer) override;
    void drag(const Pointer& pointer) override;
    bool click(const Pointer& pointer) override;
    bool escape() override;
    void take_changes() override;
    void paint(QPainter& painter) override;

    /// What is clicked is given to this row of the open step; one that has a place is stood where the first click is,
    /// and each further click makes another such row.
    void answer(const std::string& row);
    [[nodiscard]] const std::string& answered() const { return row_; }
    [[nodiscard]] std::optional<model::Row> answered_row() const;
    /// The rows of the open step; nothing where it has none.
    [[nodiscard]] std::optional<model::Field> rows() const;

signals:
    /// Another row is answered by clicks now; empty: none.
    void changed(const QString& row);

private:
    [[nodiscard]] std::optional<model::FieldOption> wanted() const;
    [[nodiscard]] std::optional<model::Row> answered_among(const model::Rows& rows) const;
    [[nodiscard]] std::optional<model::NamedPlace> mark_at(const QPointF& at) const;
    [[nodiscard]] std::vector<model::NamedPlace> marks() const;
    [[nodiscard]] std::optional<Point3> place_under(const QPointF& at) const;
    void stand(const Point3& place);

    std::string row_;
    int step_ = 0;
    std::optional<PulledRow> pulled_;
};

/// A name for another row that makes such things: its first letter and a free number.
std::string free_row_name(const model::Rows& rows, const model::FieldOption& option);

} // namespace kervo::app
