// SPDX-License-Identifier: GPL-3.0-or-later
// What is done with the chosen piece.
#include "ask/frame_dialog.h"
#include "ask/lay_out_dialog.h"
#include "ask/over_video_dialog.h"
#include "ask/variants_dialog.h"
#include "edit/arrange.h"
#include "edit/edits.h"
#include "release/release_view.h"
#include "shell/actions.h"
#include "shell/main_window.h"
#include "work/region_edits.h"

namespace zl::app {
namespace {

void removePiece(MainWindow& w) {
    Session& session = w.session();
    session.apply(withoutPiece(session.kit(), session.piece()->id),
                  Actions::tr("Remove the piece"));
}

void twiceFrame(MainWindow& w) {
    Session& session = w.session();
    session.apply(withPieceScaled(session.kit(), session.piece()->id, 2),
                  Actions::tr("Twice the frame"));
}

// The copy stands right behind it, and is chosen.
void doublePiece(MainWindow& w, bool asVariant) {
    Session& session = w.session();
    const std::string id = session.piece()->id;
    if (!session.apply(
            withPieceDoubled(session.kit(), id, asVariant),
            asVariant ? Actions::tr("Start a variant") : Actions::tr("Duplicate the piece")))
        return;
    const auto& pieces = session.kit().pieces;
    const std::size_t at = pieces.placeOf(session.kit().piece(id));
    if (at + 1 < pieces.size()) session.choice().choosePiece(pieces[at + 1].id);
}

void step(MainWindow& w, int by) {
    const auto& pieces = w.session().kit().pieces;
    const auto n = static_cast<std::ptrdiff_t>(pieces.size()),
               at = static_cast<std::ptrdiff_t>(pieces.placeOf(w.session().piece()));
    w.session().choice().choosePiece(pieces[static_cast<std::size_t>((at + by + n) % n)].id);
}

std::vector<ActionRow> historyActions() {
    // Undo and redo have their buttons in the header; their keys live here.
    return {{.id = "undoAction",
             .words = Actions::tr("Undo"),
             .key = QKeySequence::Undo,
             .needs = Needs::undo,
             .run = [](MainWindow& w) { w.session().document().history().undo(); }},
            {.id = "redoAction",
             .words = Actions::tr("Redo"),
             .key = QKeySequence("Ctrl+Shift+Z"),
             .needs = Needs::redo,
             .run = [](MainWindow& w) { w.session().document().history().redo(); }},
            {}};
}

std::vector<ActionRow> frameActions() {
    return {{.id = "startPieceAction",
             .words = Actions::tr("Start a piece …"),
             .key = QKeySequence("Ctrl+Shift+N"),
             .run = [](MainWindow& w) { w.startPiece(); }},
            {.id = "startFromVideoAction",
             .words = Actions::tr("Start a piece from a video …"),
             .run =
                 [](MainWindow& w) {
                     w.layerDoor().openVideo([&w](const QString& file) { w.startPiece(file); });
                 }},
            {.id = "removePiece",
             .words = Actions::tr("Remove the piece"),
             .needs = Needs::piece,
             .run = removePiece},
            {.id = "twiceFrame",
             .words = Actions::tr("Twice the frame"),
             .needs = Needs::piece,
             .run = twiceFrame},
            {.id = "frameAction",
             .words = Actions::tr("Frame and size …"),
             .key = QKeySequence("Ctrl+Alt+F"),
             .needs = Needs::piece,
             .run = [](MainWindow& w) { (new FrameDialog(w.session(), &w))->open(); }},
            {.id = "makeRoomAction",
             .words = Actions::tr("Make room for finishes"),
             .needs = Needs::piece,
             .run = [](MainWindow& w) { w.mending().mend("make-room"); }},
            {}};
}

std::vector<ActionRow> variantActions() {
    return {
        {.id = "doublePieceAction",
         .words = Actions::tr("Duplicate the piece"),
         .needs = Needs::piece,
         .run = [](MainWindow& w) { doublePiece(w, false); }},
        {.id = "variantAction",
         .words = Actions::tr("Start a variant"),
         .key = QKeySequence("Ctrl+Alt+V"),
         .needs = Needs::piece,
         .run = [](MainWindow& w) { doublePiece(w, true); }},
        {.id = "compareVariantsAction",
         .words = Actions::tr("Compare variants …"),
         .key = QKeySequence("Ctrl+Alt+C"),
         .needs = Needs::piece,
         .run = [](MainWindow& w) { (new VariantsDialog(w.session(), w.readings(), &w))->open(); }},
        {}};
}

std::vector<ActionRow> placeActions() {
    return {
        {.id = "layOutAction",
         .words = Actions::tr("Lay out for other places …"),
         .key = QKeySequence("Ctrl+Alt+L"),
         .needs = Needs::piece,
         .run = [](MainWindow& w) { (new LayOutDialog(w.session(), &w))->open(); }},
        {.id = "carryOverAction",
         .words = Actions::tr("Carry edits over"),
         .key = QKeySequence("Ctrl+Alt+E"),
         .needs = Needs::piece,
         .run = [](MainWindow& w) { carryEditsOver(w.session()); }},
        {.id = "overVideoAction",
         .words = Actions::tr("Over a video of yours …"),
         .key = QKeySequence("Ctrl+Alt+O"),
         .needs = Needs::piece,
         .run =
             [](MainWindow& w) {
                 auto* dialog = new OverVideoDialog(w.session(), w.dialogs(), &w);
                 QObject::connect(&dialog->desk(), &OverVideoDesk::lookedThrough, &w.readings(),
                                  [&w](double part) {
                                      if (part >= 1) w.readings().measureAgain();
                                  });
                 dialog->open();
             }},
        {.id = "drawLinkAction",
         .words = Actions::tr("Draw a link region"),
         .key = QKeySequence("Ctrl+Alt+K"),
         .needs = Needs::piece,
         .run =
             [](MainWindow& w) { w.drawRegion([&w](PixelRect r) { addLink(w.session(), r); }); }},
        {.id = "drawSliceAction",
         .words = Actions::tr("Cut a slice"),
         .key = QKeySequence("Ctrl+Alt+S"),
         .needs = Needs::piece,
         .run =
             [](MainWindow& w) { w.drawRegion([&w](PixelRect r) { addSlice(w.session(), r); }); }},
        {.id = "headerStripAction",
         .words = Actions::tr("Cut a header strip"),
         .needs = Needs::piece,
         .run = [](MainWindow& w) { addHeaderStrip(w.session()); }},
        {.id = "ownBriefAction",
         .words = Actions::tr("A brief of your own …"),
         .needs = Needs::piece,
         .run = [](MainWindow& w) { w.openBriefDialog(); }},
        {}};
}

std::vector<ActionRow> stepActions() {
    return {{.id = "nextPiece",
             .words = Actions::tr("Next piece"),
             .key = QKeySequence("Ctrl+PgDown"),
             .needs = Needs::piece,
             .run = [](MainWindow& w) { step(w, 1); }},
            {.id = "previousPiece",
             .words = Actions::tr("Previous piece"),
             .key = QKeySequence("Ctrl+PgUp"),
             .needs = Needs::piece,
             .run = [](MainWindow& w) { step(w, -1); }},
            {},
            {.id = "releaseAction",
             .words = Actions::tr("Release"),
             .key = QKeySequence("Ctrl+R"),
             .needs = Needs::piece,
             .run = [](MainWindow& w) {
                 w.showView(MainWindow::release);
                 w.part<ReleaseView>()->release();
             }}};
}

}  // namespace

std::vector<ActionRow> pieceActions() {
    std::vector<ActionRow> all;
    for (const auto group :
         {historyActions, frameActions, variantActions, placeActions, stepActions})
        for (ActionRow& row : group()) all.push_back(std::move(row));
    return all;
}

}  // namespace zl::app
