// SPDX-License-Identifier: GPL-3.0-or-later
// What is seen, and help.
#include <QMessageBox>

#include "look/theme.h"
#include "shell/actions.h"
#include "shell/main_window.h"

namespace zl::app {
namespace {

void tellIn(MainWindow& w, const QString& title, const QString& words) {
    auto* box = new QMessageBox(QMessageBox::NoIcon, title, words, QMessageBox::Close, &w);
    box->setTextFormat(Qt::RichText);
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->open();
}

// What the hand does, and the keys that one would look for; where an action has the key, its row
// says which.
void showKeys(MainWindow& w) {
    const auto key = [&](const char* id) { return w.actions().keyOf(id); };
    const std::vector<std::pair<QString, QString>> rows{
        {Actions::tr("Arrows"), Actions::tr("move the chosen layer 1 px, with Shift 10 px")},
        {Actions::tr("Page Up, Page Down"), Actions::tr("choose the layer above or below")},
        {Actions::tr("Ctrl + a corner"), Actions::tr("scale without holding the shape")},
        {Actions::tr("Ctrl while moving"),
         Actions::tr("let a layer go where the hand goes, without snapping")},
        {Actions::tr("Shift + click, %1").arg(key("chooseAllAction")),
         Actions::tr("choose several layers; %1 groups them").arg(key("groupAction"))},
        {Actions::tr("The round handle"), Actions::tr("turns; with Shift in steps of 15°")},
        {QString("%1, %2").arg(key("copyFinish"), key("pasteFinish")),
         Actions::tr("copy a finish, put it on other layers")},
        {key("cropAction"), Actions::tr("crop the chosen picture; Enter ends it")},
        {Actions::tr("Ctrl + wheel"),
         Actions::tr("zoom; the wheel alone scrolls, the middle button drags")},
        {Actions::tr("F2, Space, Delete"), Actions::tr("in the layer list: rename, hide, delete")},
        {key("allReadings"), Actions::tr("all readings with their findings and mends")},
        {w.views().keys().join(", "), w.views().titles().join(", ")}};
    QString table = "<table cellpadding='3'>";
    for (const auto& [keys, what] : rows)
        table += QString("<tr><td>%1</td><td>%2</td></tr>").arg(heavy(keys), what);
    tellIn(w, Actions::tr("Keys"), table + "</table>");
}

void showAbout(MainWindow& w) {
    tellIn(w, Actions::tr("About Zinc Ledge"),
           heavy(Actions::tr("Zinc Ledge %1").arg(ZL_VERSION)) +
               Actions::tr("<br>Prepares and measures the pictures "
                           "that surround a video or a stream.<br><br>"
                           "Free software, GPL-3.0-or-later. Its fonts are under the "
                           "SIL Open Font License 1.1."));
}

ActionRow zoomRow(const char* id, const QString& words, const char* key, double zoom) {
    return {.id = id, .words = words, .key = QKeySequence(key), .run = [zoom](MainWindow& w) {
                w.canvas().setZoom(zoom);
            }};
}

ActionRow themeRow(const char* id, const QString& words, const char* name) {
    return {.id = id,
            .words = words,
            .run = [name](MainWindow& w) { w.wearTheme(name); },
            .checked = [name](MainWindow&) { return Theme::name() == name; }};
}

}  // namespace

std::vector<ActionRow> viewActions(MainWindow& window) {
    std::vector<ActionRow> rows = window.views().actions();
    rows.push_back({});
    rows.push_back({.id = "allReadings",
                    .words = Actions::tr("All readings"),
                    .key = QKeySequence("Ctrl+L"),
                    .run = [](MainWindow& w) { w.openFindings({}); }});
    rows.push_back(zoomRow("fitAction", Actions::tr("Fit the frame"), "Ctrl+0", 0));
    rows.push_back(zoomRow("zoom100Action", Actions::tr("100 %"), "Ctrl+1", 1));
    rows.push_back(zoomRow("zoom200Action", Actions::tr("200 %"), "Ctrl+2", 2));
    rows.push_back(
        {.id = "thirdsAction",
         .words = Actions::tr("Thirds and centre lines"),
         .key = QKeySequence("Ctrl+'"),
         .run = [](MainWindow& w) { w.canvas().setThirdsShown(!w.canvas().thirdsShown()); },
         .checked = [](MainWindow& w) { return w.canvas().thirdsShown(); }});
    rows.push_back({});
    rows.push_back(themeRow("theme-zinc-sheet", Actions::tr("Zinc sheet"), "zinc-sheet"));
    rows.push_back(themeRow("theme-night-bench", Actions::tr("Night bench"), "night-bench"));
    return rows;
}

std::vector<ActionRow> helpActions() {
    return {
        {.id = "keys", .words = Actions::tr("Keys"), .key = QKeySequence("F1"), .run = showKeys},
        {.id = "about", .words = Actions::tr("About Zinc Ledge"), .run = showAbout}};
}

}  // namespace zl::app
