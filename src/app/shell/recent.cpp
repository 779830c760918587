#include "app/shell/recent.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QPainter>
#include <QSaveFile>
#include <QStandardPaths>

namespace kervo::app {

namespace {

constexpr int most = 12;
constexpr QSize picture_size(384, 240);

QString folder() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/recent";
}

QString picture_of(const QString& path) {
    const QByteArray hash = QCryptographicHash::hash(path.toUtf8(), QCryptographicHash::Sha1);
    return folder() + "/" + hash.toHex() + ".png";
}

// One path in a line.
QStringList listed() {
    QFile file(folder() + "/list");
    return file.open(QFile::ReadOnly) ? QString::fromUtf8(file.readAll()).split('\n', Qt::SkipEmptyParts)
                                      : QStringList();
}

} // namespace

// A document in a folder of its own is called after that.
QString RecentDocument::name() const {
    const QFileInfo info(path);
    return info.fileName() == "document.json" ? info.dir().dirName() : info.completeBaseName();
}

QImage small_picture(const QImage& picture) {
    const QImage scaled = picture.scaled(picture_size, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    QImage small(picture_size, QImage::Format_RGB888);
    small.fill(picture.pixelColor(0, 0)); // the paper
    QRect place = scaled.rect();
    place.moveCenter(small.rect().center());
    QPainter(&small).drawImage(place, scaled);
    return small;
}

std::vector<RecentDocument> recent_documents() {
    std::vector<RecentDocument> all;
    for (const QString& path : listed()) {
        if (QFileInfo(path).isFile()) {
            all.push_back({path, QImage(picture_of(path))});
        }
    }
    return all;
}

void remember_document(const QString& path, const QImage& picture) {
    const QString whole = QFileInfo(path).absoluteFilePath();
    if (whole.contains('\n') || !QDir().mkpath(folder())) {
        return;
    }
    QStringList all = listed();
    all.removeAll(whole);
    all.prepend(whole);
    while (all.size() > most) {
        QFile::remove(picture_of(all.takeLast()));
    }
    QSaveFile list(folder() + "/list");
    if (list.open(QFile::WriteOnly)) {
        list.write(all.join('\n').toUtf8());
        list.commit();
    }
    if (!picture.isNull()) {
        small_picture(picture).save(picture_of(whole), "PNG");
    }
}

} // namespace kervo::app
