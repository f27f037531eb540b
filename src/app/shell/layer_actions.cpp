// SPDX-License-Identifier: GPL-3.0-or-later
// The window's ways to bring layers into a piece: files, lettering, bars, the clipboard.
#include <QApplication>
#include <QBuffer>
#include <QClipboard>
#include <QMimeData>
#include <QUrl>
#include <cmath>

#include "base/data_files.h"
#include "edit/edits.h"
#include "lettering/lettering.h"
#include "shell/main_window.h"
#include "store/kit_file.h"
#include "work/jobs.h"

namespace zl::app {
namespace {

QString pictureFilter() {
    QString endings;
    for (const ContentFacts& facts : allContents())
        if (facts.read)
            for (const QString& ending :
                 QString::fromUtf8(facts.endings.data(), static_cast<int>(facts.endings.size()))
                     .split(' '))
                endings += " *" + ending + " *" + ending.toUpper();
    return MainWindow::tr("Pictures (%1)").arg(endings.trimmed());
}

// The name, with a number behind it when a layer has it already.
std::string freeName(const Piece& piece, const QString& name) {
    QString made = name;
    for (int i = 2; std::any_of(piece.layers.begin(), piece.layers.end(),
                                [&](const Layer& l) { return l.name == made.toStdString(); });
         ++i)
        made = QString("%1 %2").arg(name).arg(i);
    return made.toStdString();
}

}  // namespace

void MainWindow::addPicture(bool reference) {
    dialogs_.openFile(this, reference ? tr("Bring in a reference") : tr("Bring in a picture"),
                      pictureFilter(), [this, reference](const QString& file) {
                          session_.intake().bringIn(std::vector<Path>{file.toStdString()}, reference);
                      });
}

void MainWindow::addFont() {
    dialogs_.openFile(
        this, tr("Bring in a font"), tr("Fonts (*.otf *.ttf *.ttc *.OTF *.TTF *.TTC)"),
        [this](const QString& file) { session_.intake().bringIn(std::vector<Path>{file.toStdString()}); });
}

void MainWindow::addLettering() {
    const Piece* piece = session_.piece();
    if (!piece) return tell(tr("Start a piece first; then lettering has a place to go."), true);
    LetteringLayer letters;
    letters.text = tr("Your title").toStdString();
    letters.size = std::max(12.0, std::round(piece->frame.height * 0.16));
    if (const auto box = measure(letters))
        letters.at = {std::round((piece->frame.width - box->block.width) / 2),
                      std::round((piece->frame.height - box->block.height) / 2)};
    Layer layer;
    layer.name = freeName(*piece, tr("Lettering"));
    layer.what = letters;
    // Wide enough to be seen where the piece is smallest.
    const double seen =
        session_.brief()
            ? outlineThatCounts(sizesShown(*session_.brief(), piece->frame).front().scale)
            : 0;
    layer.finishes = {
        outlineOf(std::max(std::round(letters.size * 0.06), seen), {16, 21, 28, 255})};
    if (!session_.apply(withLayer(session_.kit(), piece->id, layer), tr("Add lettering"))) return;
    session_.choice().chooseLayer(session_.piece()->layers.back().id);
    showView(make);
    bench_->editText();
}

// What a stream's overlay is built of, inside the safe title area: a box for the camera, one for
// the chat, a list of links.
void MainWindow::addBox(int which) {
    const Piece* piece = session_.piece();
    if (!piece) return tell(tr("Start a piece first; then a box has a place to go."), true);
    const double w = piece->frame.width, h = piece->frame.height, left = std::round(w * 0.052),
                 bottom = std::round(h * 0.945);
    BarLayer bar;
    bar.shape = BarShape::rounded;
    bar.radius = std::round(h * 0.012);
    bar.colour = {16, 21, 28, 204};
    const double wide = std::round(w * 0.18), high = std::round(which == 0   ? wide * 9 / 16
                                                                : which == 1 ? h * 0.34
                                                                             : h * 0.13);
    bar.place = {which == 0 ? std::round(w - left - wide) : left, std::round(bottom - high), wide,
                 high};
    // The camera stands behind the overlay: its box is a frame round a faint ground.
    if (which == 0) bar.colour.alpha = 26;
    const QString names[] = {tr("Camera box"), tr("Chat box"), tr("List of links, ground")};
    std::vector<Layer> made(1);
    made[0].name = freeName(*piece, names[which]);
    made[0].what = bar;
    if (which == 0)
        made[0].finishes = {outlineOf(std::max(2.0, std::round(h * 0.005)), {255, 246, 227, 255})};
    if (which == 2) {
        LetteringLayer letters;
        letters.text = tr("example.org/films\nexample.org/write").toStdString();
        letters.style = "Bold";
        letters.size = std::max(12.0, std::round(h * 0.036));
        letters.leading = 1.2;
        if (const auto box = measure(letters); box && box->block.width > 0.88 * wide)
            letters.size *= 0.88 * wide / box->block.width;
        if (const auto box = measure(letters))
            letters.at = {bar.place.x + std::round(wide * 0.06),
                          std::round(bar.place.centre().y - box->block.height / 2)};
        Layer words;
        words.name = freeName(*piece, tr("List of links"));
        words.what = letters;
        made.push_back(words);
    }
    Result<Kit> next = session_.kit();
    for (const Layer& layer : made)
        if (next) next = withLayer(*next, piece->id, layer);
    if (!session_.apply(next, tr("Add %1").arg(names[which]))) return;
    session_.choice().chooseLayer(session_.piece()->layers.back().id);
    showView(make);
}

void MainWindow::addBar(int shape) {
    const Piece* piece = session_.piece();
    if (!piece) return tell(tr("Start a piece first; then a bar has a place to go."), true);
    const double w = piece->frame.width, h = piece->frame.height;
    BarLayer bar;
    bar.shape = static_cast<BarShape>(shape);
    const double side = std::round(h * 0.4);
    switch (bar.shape) {
        case BarShape::rectangle:
            bar.place = {0, std::round(h * 0.92), w, h - std::round(h * 0.92)};
            break;
        case BarShape::rounded:
            bar.place = {std::round(w * 0.1), std::round(h * 0.72), std::round(w * 0.8),
                         std::round(h * 0.18)};
            break;
        case BarShape::line:
            bar.place = {std::round(w * 0.25), std::round(h * 0.5), std::round(w * 0.5),
                         std::max(2.0, std::round(h * 0.01))};
            break;
        case BarShape::arrow:
            bar.place = {std::round(w * 0.35), std::round(h * 0.45), std::round(w * 0.3),
                         std::round(h * 0.12)};
            break;
        default:
            bar.place = {std::round((w - side) / 2), std::round((h - side) / 2), side, side};
    }
    bar.thickness = std::max(2.0, std::round(std::min(bar.place.width, bar.place.height) *
                                             (bar.shape == BarShape::arrow ? 0.35 : 0.1)));
    if (bar.shape != BarShape::rectangle && bar.shape != BarShape::rounded)
        bar.colour = {255, 198, 83, 255};
    Layer layer;
    const QString names[] = {tr("Bar"),  tr("Rounded bar"), tr("Ellipse"),
                             tr("Ring"), tr("Line"),        tr("Arrow")};
    layer.name = freeName(*piece, names[shape]);
    layer.what = bar;
    if (bar.shape == BarShape::rectangle || bar.shape == BarShape::rounded) layer.opacity = 0.8;
    if (!session_.apply(withLayer(session_.kit(), piece->id, layer), tr("Add a bar"))) return;
    session_.choice().chooseLayer(session_.piece()->layers.back().id);
    showView(make);
}

namespace {
constexpr char layersMime[] = "application/x-zinc-ledge-layers";
}

void MainWindow::copyLayers() {
    Kit kit = session_.kit();
    Piece piece = *session_.piece();
    std::erase_if(piece.layers,
                  [this](const Layer& layer) { return !session_.chosenIds().contains(layer.id); });
    const auto count = piece.layers.size();
    kit.pieces = {piece};
    kit.fonts.clear();
    aside(
        session_.jobs(), this, [kit = std::move(kit)] { return packKit(kit); },
        [this, count](Result<Bytes> packed) {
            if (!packed) return tell(QString::fromStdString(packed.error().sentence()), true);
            auto* copied = new QMimeData;
            copied->setData(layersMime, QByteArray(reinterpret_cast<const char*>(packed->data()),
                                                   static_cast<qsizetype>(packed->size())));
            QApplication::clipboard()->setMimeData(copied);
            tell(count == 1 ? tr("Copied a layer.") : tr("Copied %1 layers.").arg(count), false);
        });
}

bool MainWindow::pasteLayers() {
    const QMimeData* pasted = QApplication::clipboard()->mimeData();
    if (!pasted || !pasted->hasFormat(layersMime) || !session_.piece()) return false;
    const QByteArray packed = pasted->data(layersMime);
    aside(
        session_.jobs(), this,
        [bytes = Bytes(packed.begin(), packed.end())]() -> Result<Kit> {
            const auto schema = schemaNamed("kit.schema.json");
            return schema ? unpackKit(bytes, *schema, "the clipboard") : passOn(schema.error());
        },
        [this](Result<Kit> from) {
            if (!from) return tell(QString::fromStdString(from.error().sentence()), true);
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

void MainWindow::paste() {
    if (pasteLayers()) return;
    const QMimeData* pasted = QApplication::clipboard()->mimeData();
    if (pasted && pasted->hasUrls()) {
        std::vector<Path> files;
        for (const QUrl& url : pasted->urls())
            if (url.isLocalFile()) files.emplace_back(url.toLocalFile().toStdString());
        return session_.intake().bringIn(files);
    }
    if (!pasted || !pasted->hasImage())
        return tell(tr("There is no picture to paste. Copy one first."), true);
    aside(
        session_.jobs(), this,
        [image = qvariant_cast<QImage>(pasted->imageData())] {
            QByteArray bytes;
            QBuffer buffer(&bytes);
            buffer.open(QIODevice::WriteOnly);
            return image.save(&buffer, "PNG") ? bytes : QByteArray();
        },
        [this](const QByteArray& bytes) {
            if (bytes.isEmpty()) return tell(tr("The pasted picture cannot be read."), true);
            session_.intake().bringIn(Bytes(bytes.begin(), bytes.end()), "Pasted picture.png");
        });
}

}  // namespace zl::app
