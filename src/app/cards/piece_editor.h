// Pieces on a card: small picture, volume, verdict. Plugs of one workpiece stand in one row until it is opened.
#pragma once

#include "app/cards/field_editors.h"

#include <QLabel>
#include <QVBoxLayout>

namespace kervo::app {

class PieceEditor : public FieldEditor {
    Q_OBJECT
public:
    PieceEditor(model::FieldInfo info, const CardContext& context, QWidget* parent);
    void refresh(const model::FieldValue& value) override;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    struct Row {
        std::vector<size_t> pieces;
        QString name;
        bool group = false;
        QString shown = {}; ///< the name, or less of it where there is nothing to confuse it with
    };
    [[nodiscard]] std::vector<Row> rows_of(const std::vector<model::Piece>& pieces) const;
    /// What a key of a cutter means to people, for what is inside of it.
    [[nodiscard]] QString words_for(const std::string& key) const;
    [[nodiscard]] QString words_for(const model::Piece& piece, const std::vector<model::Piece>& pieces) const;
    void offer_several(const std::vector<model::Piece>& pieces);
    void rebuild();
    void mark_row(int piece);
    void add_row(const Row& row, const std::vector<model::Piece>& pieces);
    void decide(const std::vector<size_t>& pieces, model::Verdict verdict);
    [[nodiscard]] QPixmap picture_of(size_t piece) const;

    QVBoxLayout* column_;
    QLabel* balance_;
    QWidget* rows_ = nullptr;
    model::VerdictRules rules_;
    PicturePtr shown_;
    std::set<std::string> opened_; ///< groups that show their pieces one by one
};

} // namespace kervo::app
