// SPDX-License-Identifier: GPL-3.0-or-later
// What is open: the kit, its history, the chosen piece and layer. Widgets show it and send edits;
// nothing else changes it.
#pragma once

#include <QLockFile>
#include <QObject>
#include <QString>
#include <QThreadPool>
#include <QTimer>
#include <QUndoStack>
#include <functional>
#include <memory>
#include <optional>
#include <set>

#include "base/file.h"
#include "brief/brief.h"
#include "kit/kit.h"
#include "render/render.h"

namespace zl::app {

class Session : public QObject {
    Q_OBJECT
  public:
    explicit Session(Briefs briefs, QObject* parent = nullptr);
    ~Session() override;

    const Kit& kit() const { return kit_; }
    const Briefs& briefs() const { return briefs_; }
    // A brief of the person's own, into their data folder; its id. What is wrong with it is told
    // and nothing is written.
    [[nodiscard]] Result<std::string> keepOwnBrief(const OrderedJson& brief);
    QUndoStack& history() { return history_; }
    const std::shared_ptr<InkStore>& inks() const { return inks_; }
    QThreadPool& pool() { return pool_; }

    const Piece* piece() const { return kit_.piece(pieceId_); }  // nothing in an empty kit
    const Brief* brief() const;  // of the chosen piece; nothing when it is missing
    const Layer* layer() const { return piece() ? piece()->layer(layerId_) : nullptr; }
    // The chosen layer's picture; nothing where it shows none.
    const PictureLayer* picture() const { return layer() ? layer()->picture() : nullptr; }
    void choosePiece(const std::string& id);
    void chooseLayer(int id);  // that one alone; 0: none
    // Several at once; `primary` is the one whose values are shown. Ids that are gone are left out.
    void chooseLayers(const std::set<int>& ids, int primary);
    void toggleLayer(int id);  // adds it to the choice, or takes it out
    const std::set<int>& chosenIds() const { return layerIds_; }  // with the primary one

    // The layers changed as one edit.
    void editLayers(const std::set<int>& ids, const QString& what, const QString& mergeKey,
                    const std::function<void(Layer&)>& change);
    // The chosen layers and their group mates moved.
    void moveChosen(double dx, double dy, const QString& what, const QString& mergeKey);

    // One undoable edit. An error is told and changes nothing; an equal kit pushes nothing. Edits
    // of the same, non-empty `mergeKey` that follow each other are one step.
    bool apply(const Result<Kit>& next, const QString& what, const QString& mergeKey = {});

    // Files. Opening and saving happen aside; `opened` and `saved` tell the end, `told` tells what
    // went wrong.
    static QString lastKit();  // the path of the kit that was open last; empty when it is gone
    void newKit();
    void open(const Path& path);
    void openValue(Kit kit, const Path& path);
    void save(const Path& path, Replace replace, std::function<void(bool)> done = {});
    const std::optional<Path>& path() const { return path_; }
    bool changed() const { return !history_.isClean(); }
    bool busy() const { return busy_; }

    // The recovery journal. Every edit is in it within two seconds. A folder of a window that is
    // gone is offered back.
    void keepJournalIn(const Path& folder);  // the folder of all journals
    std::vector<Path> lostJournals() const;  // of windows that ended without saving or discarding
    void recover(const Path& journal);       // opens it, changed and not saved
    void forget(const Path& journal);
    void endJournal();  // what is unsaved is discarded on purpose

    // Brings files in as picture layers that fill the frame, on top, reading them aside. What
    // cannot be read is told. Font files among them become the kit's own. A reference is seen while
    // making and never released.
    void bringIn(const std::vector<Path>& files, bool reference = false);
    void bringIn(Bytes bytes, const std::string& name, bool reference = false);
    void bringInFont(Bytes bytes, const std::string& name);
    static QStringList recent(
        const char* what);  // "recentKits", "recentPictures": paths that are there, newest first

    void tell(const QString& sentence, bool bad);

  Q_SIGNALS:
    void kitChanged();  // any edit, undo, redo, opening
    void chosen();      // another piece or layer was chosen
    void fontsChanged();
    void opened();
    void saved();
    void told(const QString& sentence, bool bad);

  private:
    friend class KitCommand;
    void show(const Kit& kit);
    void reset(Kit kit, std::optional<Path> path);
    void noteEdit();
    void writeJournal();
    bool hold(const Path& path);  // marks the file as open here; false when another window has it
    static void remember(const char* what, const Path& path);

    Briefs briefs_;
    Kit kit_;
    std::optional<Path> path_;
    std::string pieceId_;
    int layerId_ = 0;
    std::set<int> layerIds_;
    Path journals_, journal_;  // empty: none is kept
    std::unique_ptr<QLockFile> journalHeld_;
    std::set<std::string> journaled_;  // originals that stand in the journal
    bool journaling_ = false;
    Path recoveredFrom_;  // goes once what came out of it is in a journal of this window
    QTimer* journalTimer_;
    bool busy_ = false;
    std::unique_ptr<QLockFile> held_;
    QUndoStack history_;
    std::shared_ptr<InkStore> inks_ = std::make_shared<InkStore>();
    QThreadPool pool_;
};

// Of a journal that a window left: the kit's file name, or its title where it has none, and when it
// was last written, in words. Reads files; any thread.
std::pair<QString, QString> lostKit(const Path& journal);

}  // namespace zl::app
