#include "app/cards/piece_editor.h"
#include "app/view/tools/piece_tool.h"

#include "app/look/counted.h"

#include <QButtonGroup>
#include <QEvent>
#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QPushButton>

#include <cmath>

namespace kervo::app {

PieceEditor::PieceEditor(model::FieldInfo info, const CardContext& context, QWidget* parent)
    : FieldEditor(std::move(info), context, parent) {
    column_ = new QVBoxLayout(this);
    column_->setContentsMargins(0, 0, 0, 0);
    column_->setSpacing(2);
    balance_ = new QLabel(this);
    balance_->setObjectName("quiet");
    balance_->setToolTip(
        tr("The volumes of the pieces add up to those of the workpieces; this is by how much they miss, relative."));
    column_->addWidget(balance_);
    connect(&context_.viewport.tool<PieceTool>(), &PieceTool::piece_clicked, this, [this](int piece) {
        const model::StepReport* report = context_.report();
        if (report != nullptr && static_cast<size_t>(piece) < report->output->pieces.size()) {
            const auto verdict = report->output->pieces[static_cast<size_t>(piece)].verdict;
            decide({static_cast<size_t>(piece)},
                   verdict == model::Verdict::goes ? model::Verdict::stays : model::Verdict::goes);
        }
    });
    connect(&context_.viewport.tool<PieceTool>(), &PieceTool::pieces_framed, this,
            [this](const std::vector<int>& framed) {
                const model::StepReport* report = context_.report();
                if (report == nullptr) {
                    return;
                }
                const std::vector<size_t> pieces(framed.begin(), framed.end());
                const bool all_go = std::all_of(pieces.begin(), pieces.end(), [&](size_t piece) {
                    return report->output->pieces[piece].verdict == model::Verdict::goes;
                });
                decide(pieces, all_go ? model::Verdict::stays : model::Verdict::goes);
            });
    connect(&context_.viewport.tool<PieceTool>(), &PieceTool::piece_hovered, this, &PieceEditor::mark_row);
}

void PieceEditor::refresh(const model::FieldValue& value) {
    rules_ = std::get<model::VerdictRules>(value);
    const PicturePtr picture = context_.session.picture();
    if (picture == shown_ || !picture || picture->as_of != context_.step) {
        return;
    }
    shown_ = picture;
    rebuild();
}

std::vector<PieceEditor::Row> PieceEditor::rows_of(const std::vector<model::Piece>& pieces) const {
    std::vector<Row> rows;
    std::map<std::string, size_t> group_of;
    for (size_t i = 0; i < pieces.size(); ++i) {
        const auto& identity = pieces[i].identity;
        const QString workpiece = context_.name_of(identity.workpiece);
        if (pieces[i].by_sides) {
            const QString words = words_for(pieces[i], pieces);
            rows.push_back({{i}, words.isEmpty() ? workpiece : tr("%1, %2").arg(words, workpiece), false});
            rows.back().shown = words.isEmpty() ? workpiece : words;
        } else if (identity.inside.empty() || opened_.contains(identity.workpiece)) {
            rows.push_back({{i}, identity.inside.empty() ? workpiece : tr("plug, %1").arg(workpiece), false});
        } else if (const auto known = group_of.find(identity.workpiece); known != group_of.end()) {
            rows[known->second].pieces.push_back(i);
        } else {
            group_of[identity.workpiece] = rows.size();
            rows.push_back({{i}, workpiece, true});
        }
    }
    for (Row& row : rows) {
        if (row.group) {
            row.name = row.pieces.size() == 1 ? tr("plug, %1").arg(row.name)
                                              : tr("%1 plugs, %2").arg(row.pieces.size()).arg(row.name);
        }
        const bool of_the_only_body = row.group && group_of.size() == 1 && row.pieces.size() > 1;
        row.shown = of_the_only_body      ? tr("%1 plugs").arg(row.pieces.size())
                    : row.shown.isEmpty() ? row.name
                                          : row.shown;
    }
    return rows;
}

void PieceEditor::rebuild() {
    if (rows_ != nullptr) {
        rows_->hide();
        rows_->deleteLater();
    }
    rows_ = new QWidget(this);
    auto* list = new QVBoxLayout(rows_);
    list->setContentsMargins(0, 0, 0, 0);
    list->setSpacing(3);
    column_->addWidget(rows_);
    const model::StepReport* report = context_.report();
    if (report == nullptr || !report->output || report->output->pieces.empty()) {
        balance_->setText(tr("no pieces yet"));
        return;
    }
    const auto& pieces = report->output->pieces;
    const QString imbalance =
        report->output->imbalance < 1e-12 ? QString("0") : QString::number(report->output->imbalance, 'g', 1);
    balance_->setText(tr("%1 pieces \u00b7 balance %2 \u00b7 %3 ms")
                          .arg(pieces.size())
                          .arg(imbalance)
                          .arg(shown_->milliseconds, 0, 'f', 0));
    for (const Row& row : rows_of(pieces)) {
        add_row(row, pieces);
    }
    if (pieces.size() > 2) {
        offer_several(pieces);
    }
}

QString PieceEditor::words_for(const std::string& key) const {
    if (key.ends_with("=")) {
        return tr("kerf");
    }
    if (key == "blade") {
        return tr("front");
    }
    if (key == "outside") { // of a neighbour
        return tr("outside");
    }
    for (const auto& [id, body] : shown_->before) {
        if (id == key) {
            return body->divides() ? tr("front of %1").arg(context_.name_of(id))
                                   : tr("in %1").arg(context_.name_of(id));
        }
    }
    return tr("plug");
}

QString PieceEditor::words_for(const model::Piece& piece, const std::vector<model::Piece>& pieces) const {
    QStringList words;
    for (const std::string& key : piece.identity.inside) {
        words << words_for(key);
    }
    if (!words.isEmpty()) {
        words.removeDuplicates();
        return words.contains(tr("kerf")) ? tr("kerf") : words.join(", ");
    }
    const auto has_only = [&](const char* key) {
        return std::any_of(pieces.begin(), pieces.end(), [&](const model::Piece& other) {
            return other.identity.inside == std::vector<std::string>{key};
        });
    };
    return has_only("blade") ? tr("back") : has_only("outside") ? tr("inside") : QString();
}

// Verdicts for all pieces on one side, or inside one cutter, at once.
void PieceEditor::offer_several(const std::vector<model::Piece>& pieces) {
    std::map<QString, std::vector<size_t>> groups;
    for (size_t i = 0; i < pieces.size(); ++i) {
        std::set<QString> words; // several keys may read the same
        for (const std::string& key : pieces[i].identity.inside) {
            words.insert(words_for(key));
        }
        groups[words.empty() ? tr("outside of all") : tr("inside the cutters")].push_back(i);
        for (const QString& each : words) {
            groups[each].push_back(i);
        }
    }
    auto* several = new QPushButton(tr("several at once\u2026"), rows_);
    several->setObjectName("plain");
    several->setToolTip(
        tr("One verdict for all pieces inside a cutter, or on one side of a blade. In the model: Ctrl and "
           "a frame."));
    connect(several, &QPushButton::clicked, this, [this, several, groups] {
        QMenu menu(this);
        for (const auto& [words, members] : groups) {
            QMenu* group = menu.addMenu(tr("%1 (%2)").arg(words).arg(members.size()));
            for (const model::Verdict verdict : {model::Verdict::stays, model::Verdict::goes, model::Verdict::apart}) {
                connect(group->addAction(QString::fromStdString(to_string(verdict))), &QAction::triggered, this,
                        [this, chosen = members, verdict] { decide(chosen, verdict); });
            }
        }
        menu.exec(several->mapToGlobal(QPoint(0, several->height())));
    });
    rows_->layout()->addWidget(several);
    rows_->layout()->setAlignment(several, Qt::AlignLeft);
}

void PieceEditor::add_row(const Row& row, const std::vector<model::Piece>& pieces) {
    auto* line = new QWidget(rows_);
    line->setObjectName("piece");
    line->setAttribute(Qt::WA_StyledBackground);
    line->setProperty("piece", static_cast<int>(row.pieces.front()));
    QVariantList held;
    for (const size_t piece : row.pieces) {
        held << static_cast<int>(piece);
    }
    line->setProperty("pieces", held);
    line->installEventFilter(this);
    auto* layout = new QHBoxLayout(line);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(5);
    auto* picture = new QLabel(line);
    picture->setPixmap(picture_of(row.pieces.front()));
    layout->addWidget(picture);
    auto* name = new QLabel(line);
    name->setText(name->fontMetrics().elidedText(row.shown, Qt::ElideRight, 76));
    name->setToolTip(row.name);
    layout->addWidget(name, 1);
    double volume = 0;
    double workpiece = 0;
    for (const size_t piece : row.pieces) {
        volume += pieces[piece].volume;
    }
    for (const model::Piece& piece : pieces) {
        workpiece += piece.identity.workpiece == pieces[row.pieces.front()].identity.workpiece ? piece.volume : 0;
    }
    const bool leftover = pieces[row.pieces.front()].verdict == model::Verdict::stays && volume < workpiece / 100;
    const bool surface = pieces[row.pieces.front()].surface;
    const bool curves = row.pieces.front() < shown_->pieces.size() && shown_->pieces[row.pieces.front()].curves;
    const std::string& unit = context_.session.document().unit;
    auto* size = new QLabel(curves    ? length_number(volume, unit)
                            : surface ? QString::number(volume / 100, 'f', 2)
                                      : volume_number(volume, unit),
                            line);
    size->setObjectName(leftover ? "caution" : "quiet");
    size->setToolTip(leftover  ? tr("This piece is under 1 % of its workpiece: is it meant to stay?")
                     : curves  ? tr("Length in %1").arg(QString::fromStdString(unit))
                     : surface ? tr("Area in cm2")
                               : tr("Volume in %1").arg(volume_unit(unit)));
    layout->addWidget(size);
    auto* verdicts = new QWidget(line);
    auto* buttons = new QHBoxLayout(verdicts);
    buttons->setContentsMargins(0, 0, 0, 0);
    buttons->setSpacing(0);
    for (const model::Verdict verdict : {model::Verdict::stays, model::Verdict::goes, model::Verdict::apart}) {
        auto* button = new QPushButton(QString::fromStdString(to_string(verdict)), verdicts);
        button->setObjectName("verdict");
        button->setCheckable(true);
        button->setAccessibleName(tr("%1 %2").arg(row.name, button->text()));
        button->setToolTip(verdict == model::Verdict::stays  ? tr("It remains part of its workpiece.")
                           : verdict == model::Verdict::goes ? tr("It is removed.")
                                                             : tr("It becomes a body of its own."));
        button->setChecked(
            std::all_of(row.pieces.begin(), row.pieces.end(), [&](size_t p) { return pieces[p].verdict == verdict; }));
        connect(button, &QPushButton::clicked, this, [this, row, verdict] { decide(row.pieces, verdict); });
        buttons->addWidget(button);
    }
    layout->addWidget(verdicts);
    rows_->layout()->addWidget(line);
    if (row.group && row.pieces.size() > 1) {
        auto* open = new QPushButton(tr("one by one"), rows_);
        open->setToolTip(tr("Lists these pieces one by one, so that each can have its own verdict."));
        open->setObjectName("plain");
        connect(open, &QPushButton::clicked, this,
                [this, workpiece_id = pieces[row.pieces.front()].identity.workpiece] {
                    opened_.insert(workpiece_id);
                    rebuild();
                });
        rows_->layout()->addWidget(open);
        rows_->layout()->setAlignment(open, Qt::AlignRight);
    }
}

void PieceEditor::decide(const std::vector<size_t>& indices, model::Verdict verdict) {
    const model::StepReport* report = context_.report();
    if (report == nullptr) {
        return;
    }
    const auto& pieces = report->output->pieces;
    model::VerdictRules next = rules_;
    for (const size_t index : indices) {
        const model::Piece& piece = pieces[index];
        std::erase_if(next, [&](const model::VerdictRule& rule) { return rule.piece == piece.identity; });
        if (verdict != piece.standard) {
            next.push_back({piece.identity, verdict, piece.center});
        }
    }
    set(next);
}

// The piece's edges, seen from above at a slant.
QPixmap PieceEditor::picture_of(size_t piece) const {
    QPixmap pixmap(24, 20);
    pixmap.fill(Qt::transparent);
    if (piece >= shown_->pieces.size()) {
        return pixmap;
    }
    QVector<QPolygonF> lines;
    QRectF box;
    for (const auto& edge : shown_->pieces[piece].edges) {
        QPolygonF line;
        for (const Point3& p : edge) {
            line << QPointF(0.77 * p.x + 0.64 * p.y, 0.36 * p.x - 0.43 * p.y - 0.83 * p.z);
        }
        box = box.isNull() ? line.boundingRect() : box.united(line.boundingRect());
        lines << line;
    }
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::Antialiasing);
    const double scale = std::min(20 / std::max(box.width(), 1e-6), 16 / std::max(box.height(), 1e-6));
    painter.translate(12, 10);
    painter.scale(scale, scale);
    painter.translate(-box.center());
    painter.setPen(QPen(context_.theme.ink, 0.9 / scale));
    for (const QPolygonF& line : lines) {
        painter.drawPolyline(line);
    }
    return pixmap;
}

void PieceEditor::mark_row(int piece) {
    for (auto* line : rows_ == nullptr ? QList<QWidget*>() : rows_->findChildren<QWidget*>("piece")) {
        const auto pieces = line->property("pieces").toList();
        const bool under = pieces.contains(piece);
        line->setStyleSheet(under ? QString("QWidget#piece { background: %1; }").arg(context_.theme.chosen.name())
                                  : QString());
    }
}

bool PieceEditor::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::Enter || event->type() == QEvent::Leave) {
        context_.viewport.tool<PieceTool>().point_out(
            event->type() == QEvent::Enter ? watched->property("piece").toInt() : -1);
    }
    return FieldEditor::eventFilter(watched, event);
}

} // namespace kervo::app
