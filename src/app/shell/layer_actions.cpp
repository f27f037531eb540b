// SPDX-License-Identifier: GPL-3.0-or-later
// What is done with the chosen layers, and what brings new ones in.
#include "edit/arrange.h"
#include "edit/edits.h"
#include "edit/stack.h"
#include "film/take_still.h"
#include "make/bench.h"
#include "readings/zones.h"
#include "shell/actions.h"
#include "shell/layer_door.h"
#include "shell/main_window.h"

namespace zl::app {
namespace {

// What comes in is seen.
LayerDoor& doorOf(MainWindow& w) {
    w.showView(MainWindow::make);
    return w.layerDoor();
}

LayerList& layersOf(MainWindow& w) {
    return w.part<Bench>()->layers();
}

void fillRecentPictures(MainWindow& w, QMenu& menu) {
    fillRecent(menu, "recentPictures", [&w](const QString& file) {
        w.session().intake().bringIn(std::vector<Path>{file.toStdString()});
    });
}

void fillRecentVideos(MainWindow& w, QMenu& menu) {
    fillRecent(menu, "recentVideos", [&w](const QString& file) {
        w.session().intake().bringInVideo(file.toStdString());
    });
}

// Where the one that is there was taken.
void anotherStill(MainWindow& w) {
    const auto& from = w.session().picture()->still;
    if (!from) return w.tell(Actions::tr("This picture does not come from a video."), true);
    const Path video = videoAt(from->file, w.session().files().path());
    std::error_code none;
    if (!std::filesystem::exists(video, none))
        return w.tell(Actions::tr("The video %1 is not there any more; the still stays.")
                          .arg(QString::fromStdString(from->file)),
                      true);
    w.openFilm(QString::fromStdString(video.string()), from->time);
}

void chooseAll(MainWindow& w) {
    std::set<int> ids;
    const std::vector<Layer>& layers = w.session().piece()->layers;
    for (const Layer& one : layers) ids.insert(one.id);
    const Layer* shown = w.session().layer();
    w.session().choice().chooseLayers(ids, shown ? shown->id : layers.back().id);
}

void group(MainWindow& w) {
    Session& session = w.session();
    session.apply(withGroup(session.kit(), session.piece()->id, session.chosenIds()),
                  Actions::tr("Group"));
}

void ungroup(MainWindow& w) {
    Session& session = w.session();
    session.apply(withoutGroup(session.kit(), session.piece()->id,
                               withGroupMates(*session.piece(), session.chosenIds())),
                  Actions::tr("Ungroup"));
}

void crop(MainWindow& w) {
    if (w.canvas().cropping()) return w.canvas().endCrop();
    w.showView(MainWindow::make);
    w.canvas().startCrop();
}

template <class Set>
void change(MainWindow& w, const QString& what, const Set& set) {
    Session& session = w.session();
    Layer next = *session.layer();
    set(next);
    session.apply(withChangedLayer(session.kit(), session.piece()->id, next), what);
}

void turnReference(MainWindow& w) {
    change(w, Actions::tr("Reference"), [](Layer& layer) {
        if (PictureLayer* picture = layer.picture()) picture->reference = !picture->reference;
    });
}

bool isEssentialNow(MainWindow& w) {
    const Layer* layer = w.session().layer();
    return layer && isEssential(*layer, w.session().piece()->frame);
}

void turnEssential(MainWindow& w) {
    change(w, Actions::tr("Essential"),
           [&w](Layer& layer) { layer.essential = !isEssentialNow(w); });
}

std::vector<ActionRow> clipboardActions() {
    return {{.id = "addPictureAction",
             .words = Actions::tr("Add picture …"),
             .key = QKeySequence("Ctrl+I"),
             .needs = Needs::piece,
             .run = [](MainWindow& w) { doorOf(w).addPicture(); }},
            {.id = "copyLayers",
             .words = Actions::tr("Copy"),
             .key = QKeySequence::Copy,
             .needs = Needs::layer,
             .run = [](MainWindow& w) { doorOf(w).copy(); }},
            {.id = "paste",
             .words = Actions::tr("Paste"),
             .key = QKeySequence::Paste,
             .needs = Needs::piece,
             .run = [](MainWindow& w) { doorOf(w).paste(); }},
            {.id = "copyFinish",
             .words = Actions::tr("Copy the finish"),
             .key = QKeySequence("Ctrl+Shift+C"),
             .needs = Needs::layer,
             .run = [](MainWindow& w) { doorOf(w).copyFinish(); }},
            {.id = "pasteFinish",
             .words = Actions::tr("Put the copied finish on"),
             .key = QKeySequence("Ctrl+Shift+V"),
             .needs = Needs::layer,
             .run = [](MainWindow& w) { doorOf(w).pasteFinish(); }}};
}

std::vector<ActionRow> newLayerActions() {
    return {{.id = "recentPictures",
             .words = Actions::tr("Recent pictures"),
             .fill = fillRecentPictures},
            {.id = "addStillAction",
             .words = Actions::tr("Take a still from a video …"),
             .key = QKeySequence("Ctrl+Shift+I"),
             .run = [](MainWindow& w) { doorOf(w).addStill(); }},
            {.id = "addClipAction",
             .words = Actions::tr("Bring in a clip from a video …"),
             .key = QKeySequence("Ctrl+Alt+I"),
             .needs = Needs::piece,
             .run = [](MainWindow& w) { doorOf(w).addClip(); }},
            {.id = "playPieceAction",
             .words = Actions::tr("Play or pause the piece"),
             .key = QKeySequence("Ctrl+Space"),
             .needs = Needs::piece,
             .run =
                 [](MainWindow& w) {
                     PieceClock& clock = w.session().clock();
                     if (!clock.runs())
                         return w.tell(Actions::tr("This piece does not move: it has no clip."),
                                       true);
                     clock.playing() ? clock.pause() : clock.play();
                 }},
            {.id = "anotherStillAction",
             .words = Actions::tr("Take another still of its video"),
             .needs = Needs::picture,
             .run = anotherStill},
            {.id = "recentVideos", .words = Actions::tr("Recent videos"), .fill = fillRecentVideos},
            {.id = "addReferenceAction",
             .words = Actions::tr("Add reference …"),
             .needs = Needs::piece,
             .run = [](MainWindow& w) { doorOf(w).addPicture(true); }},
            {.id = "addFontAction",
             .words = Actions::tr("Add font file …"),
             .needs = Needs::piece,
             .run = [](MainWindow& w) { doorOf(w).addFont(); }},
            {.id = "addLetteringAction",
             .words = Actions::tr("Add lettering"),
             .key = QKeySequence("Ctrl+T"),
             .needs = Needs::piece,
             .run = [](MainWindow& w) { doorOf(w).addLettering(); }},
            {.id = "addBarAction",
             .words = Actions::tr("Add a bar"),
             .key = QKeySequence("Ctrl+B"),
             .needs = Needs::piece,
             .run = [](MainWindow& w) { doorOf(w).addBar(0); }},
            {}};
}

std::vector<ActionRow> stackActions() {
    return {{.id = "doubleLayerAction",
             .words = Actions::tr("Duplicate"),
             .key = QKeySequence("Ctrl+D"),
             .needs = Needs::layer,
             .run = [](MainWindow& w) { layersOf(w).doubleChosen(); }},
            {.id = "deleteLayerAction",
             .words = Actions::tr("Delete"),
             .key = QKeySequence::Delete,
             .needs = Needs::layer,
             .run = [](MainWindow& w) { layersOf(w).removeChosen(); }},
            {.id = "hideLayerAction",
             .words = Actions::tr("Hide or show"),
             .key = QKeySequence("Ctrl+H"),
             .needs = Needs::layer,
             .run = [](MainWindow& w) { layersOf(w).hideChosen(); }},
            {.id = "raiseAction",
             .words = Actions::tr("Raise"),
             .key = QKeySequence("Ctrl+Up"),
             .needs = Needs::layer,
             .run = [](MainWindow& w) { layersOf(w).raise(1); }},
            {.id = "lowerAction",
             .words = Actions::tr("Lower"),
             .key = QKeySequence("Ctrl+Down"),
             .needs = Needs::layer,
             .run = [](MainWindow& w) { layersOf(w).raise(-1); }}};
}

std::vector<ActionRow> groupActions() {
    return {{.id = "chooseAllAction",
             .words = Actions::tr("Choose all"),
             .key = QKeySequence::SelectAll,
             .needs = Needs::layers,
             .run = chooseAll},
            {.id = "groupAction",
             .words = Actions::tr("Group"),
             .key = QKeySequence("Ctrl+G"),
             .needs = Needs::layer,
             .run = group},
            {.id = "ungroupAction",
             .words = Actions::tr("Ungroup"),
             .key = QKeySequence("Ctrl+Shift+G"),
             .needs = Needs::layer,
             .run = ungroup},
            {},
            {.id = "cropAction",
             .words = Actions::tr("Crop"),
             .key = QKeySequence("Ctrl+K"),
             .needs = Needs::layer,
             .run = crop},
            {.id = "referenceAction",
             .words = Actions::tr("Reference, not released"),
             .needs = Needs::picture,
             .run = turnReference,
             .checked =
                 [](MainWindow& w) {
                     return w.session().layer() && w.session().layer()->isReference();
                 }},
            {.id = "essentialAction",
             .words = Actions::tr("Essential in the zones"),
             .needs = Needs::layer,
             .run = turnEssential,
             .checked = isEssentialNow}};
}

}  // namespace

std::vector<ActionRow> layerActions() {
    std::vector<ActionRow> all;
    for (const auto rows : {clipboardActions, newLayerActions, stackActions, groupActions})
        for (ActionRow& row : rows()) all.push_back(std::move(row));
    return all;
}

}  // namespace zl::app
