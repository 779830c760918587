// The documents that were worked on lately, with a small picture of each, kept in the user's own folder.
#pragma once

#include <QImage>
#include <QString>

#include <vector>

namespace kervo::app {

struct RecentDocument {
    QString path;
    QImage picture; ///< null where there is none
    [[nodiscard]] QString name() const;
};

/// A picture of the model, small, with paper at its sides.
QImage small_picture(const QImage& picture);

/// Newest first, those that are no longer there left out.
std::vector<RecentDocument> recent_documents();
/// It stands first from now on. A null picture leaves the one that is there. What cannot be kept is not kept.
void remember_document(const QString& path, const QImage& picture = {});

} // namespace kervo::app
