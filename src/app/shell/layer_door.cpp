// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/layer_door.h"

#include <QApplication>
#include <QBuffer>
#include <QClipboard>
#include <QImage>
#include <QMimeData>
#include <QUrl>

#include "base/data_files.h"
#include "base/json.h"
#include "edit/edits.h"
#include "layout/new_layers.h"
#include "store/kit_file.h"

namespace zl::app {
namespace {

constexpr char layersMime[] = "application/x-zinc-ledge-layers";

}  // namespace

LayerDoor::LayerDoor(Session& session, Dialogs& dialogs, QWidget* window)
    : QObject(window), session_(session), dialogs_(dialogs), window_(window) {}

void LayerDoor::addPicture(bool reference) {
    dialogs_.openFile(window_, reference ? tr("Bring in a reference") : tr("Bring in a picture"),
                      pictureFilter(), [this, reference](const QString& file) {
                          session_.intake().bringIn(std::vector<Path>{file.toStdString()},
                                                    reference);
                      });
}

void LayerDoor::addStill() {
    openVideo([this](const QString& file) { session_.intake().bringInVideo(file.toStdString()); });
}

void LayerDoor::addClip() {
    if (!hasPlace(tr("a clip"))) return;
    openVideo([this](const QString& file) { session_.intake().bringInClip(file.toStdString()); });
}

void LayerDoor::openVideo(const std::function<void(const QString& file)>& chosen) {
    dialogs_.openFile(window_, tr("Open a video"), videoFilter(), chosen);
}

void LayerDoor::addFont() {
    dialogs_.openFile(window_, tr("Bring in a font"),
                      tr("Fonts (*.otf *.ttf *.ttc *.OTF *.TTF *.TTC)"),
                      [this](const QString& file) {
                          session_.intake().bringIn(std::vector<Path>{file.toStdString()});
                      });
}

bool LayerDoor::hasPlace(const QString& what) {
    if (session_.piece()) return true;
    session_.tell(tr("Start a piece first; then %1 has a place to go.").arg(what), true);
    return false;
}

bool LayerDoor::add(const std::vector<Layer>& layers, const QString& what) {
    Result<Kit> next = session_.kit();
    for (const Layer& layer : layers)
        if (next) next = withLayer(*next, session_.piece()->id, layer);
    if (!session_.apply(next, what)) return false;
    session_.choice().chooseLayer(session_.piece()->layers.back().id);
    Q_EMIT added();
    return true;
}

void LayerDoor::addLettering() {
    if (!hasPlace(tr("lettering"))) return;
    const Layer layer = newLettering(*session_.piece(), session_.brief(),
                                     tr("Your title").toStdString(), tr("Lettering").toStdString());
    if (add({layer}, tr("Add lettering"))) Q_EMIT letteringAdded();
}

void LayerDoor::addOverlayBox(int which) {
    if (!hasPlace(tr("a box"))) return;
    const QString names[] = {tr("Camera box"), tr("Chat box"), tr("List of links, ground")};
    const OverlayBoxWords words{names[which].toStdString(), tr("List of links").toStdString(),
                                tr("example.org/films\nexample.org/write").toStdString()};
    add(newOverlayBox(*session_.piece(), static_cast<OverlayBox>(which), words),
        tr("Add %1").arg(names[which]));
}

void LayerDoor::addBar(int shape) {
    if (!hasPlace(tr("a bar"))) return;
    const QString names[] = {tr("Bar"),  tr("Rounded bar"), tr("Ellipse"),
                             tr("Ring"), tr("Line"),        tr("Arrow")};
    add({newBar(*session_.piece(), static_cast<BarShape>(shape), names[shape].toStdString())},
        tr("Add a bar"));
}

void LayerDoor::copy() {
    Kit kit = session_.kit();
    Piece piece = *session_.piece();
    std::erase_if(piece.layers,
                  [this](const Layer& layer) { return !session_.chosenIds().contains(layer.id); });
    const auto count = piece.layers.size();
    kit.pieces = {piece};
    kit.fonts.clear();
    aside(
        session_.jobs(), this, [kit = std::move(kit)] { return packKit(kit); },
        [this, count](const Result<Bytes>& packed) {
            if (!packed)
                return session_.tell(QString::fromStdString(packed.error().sentence()), true);
            auto* copied = new QMimeData;
            copied->setData(layersMime, QByteArray(reinterpret_cast<const char*>(packed->data()),
                                                   static_cast<qsizetype>(packed->size())));
            QApplication::clipboard()->setMimeData(copied);
            session_.tell(count == 1 ? tr("Copied a layer.") : tr("Copied %1 layers.").arg(count),
                          false);
        });
}

void LayerDoor::copyFinish() {
    finish_ = session_.layer()->finishes;
    session_.tell(
        tr("Copied the finish of “%1”.").arg(QString::fromStdString(session_.layer()->name)),
        false);
}

void LayerDoor::pasteFinish() {
    if (!finish_) return session_.tell(tr("Copy a layer's finish first."), true);
    session_.editLayers(session_.chosenIds(), tr("Put a finish on"), {},
                        [this](Layer& one) { one.finishes = *finish_; });
}

bool LayerDoor::pasteLayers() {
    const QMimeData* pasted = QApplication::clipboard()->mimeData();
    if (!pasted || !pasted->hasFormat(layersMime) || !session_.piece()) return false;
    const QByteArray packed = pasted->data(layersMime);
    aside(
        session_.jobs(), this,
        [bytes = Bytes(packed.begin(), packed.end())]() -> Result<Kit> {
            const auto schema = schemaNamed("kit.schema.json");
            return schema ? unpackKit(bytes, *schema, "the clipboard") : passOn(schema.error());
        },
        [this](const Result<Kit>& from) {
            if (!from) return session_.tell(QString::fromStdString(from.error().sentence()), true);
            if (!session_.piece() || from->pieces.empty()) return;
            const std::size_t before = session_.piece()->layers.size();
            if (!session_.apply(withPastedLayers(session_.kit(), session_.piece()->id,
                                                 from->pieces.front().layers, *from),
                                tr("Paste layers")))
                return;
            std::set<int> ids;
            for (std::size_t i = before; i < session_.piece()->layers.size(); ++i)
                ids.insert(session_.piece()->layers[i].id);
            session_.choice().chooseLayers(ids, *ids.rbegin());
        });
    return true;
}

void LayerDoor::paste() {
    if (pasteLayers()) return;
    const QMimeData* pasted = QApplication::clipboard()->mimeData();
    if (!pasted || !pasted->hasUrls()) return pastePicture();
    std::vector<Path> files;
    for (const QUrl& url : pasted->urls())
        if (url.isLocalFile()) files.emplace_back(url.toLocalFile().toStdString());
    session_.intake().bringIn(files);
}

void LayerDoor::pastePicture() {
    const QMimeData* pasted = QApplication::clipboard()->mimeData();
    if (!pasted || !pasted->hasImage())
        return session_.tell(tr("There is no picture to paste. Copy one first."), true);
    aside(
        session_.jobs(), this,
        [image = qvariant_cast<QImage>(pasted->imageData())] {
            QByteArray bytes;
            QBuffer buffer(&bytes);
            buffer.open(QIODevice::WriteOnly);
            return image.save(&buffer, "PNG") ? bytes : QByteArray();
        },
        [this](const QByteArray& bytes) {
            if (bytes.isEmpty())
                return session_.tell(tr("The pasted picture cannot be read."), true);
            session_.intake().bringIn(Bytes(bytes.begin(), bytes.end()), "Pasted picture.png");
        });
}

}  // namespace zl::app
