// SPDX-License-Identifier: GPL-3.0-or-later
// The recovery journal: every edit is in it within two seconds. What a window left that ended
// without saving or discarding is offered back.
#pragma once

#include <QLockFile>
#include <QObject>
#include <QTimer>
#include <memory>
#include <optional>
#include <set>
#include <vector>

#include "store/recovery.h"
#include "work/document.h"

namespace zl::app {

class Journal : public QObject {
    Q_OBJECT
  public:
    Journal(Document& document, Jobs& jobs, QObject* parent = nullptr);
    ~Journal() override;  // a window that closes has saved or discarded; only a crash leaves one

    void keepIn(const Path& folder);                   // the folder of all journals
    void keepFor(const std::optional<Path>& kitFile);  // whose edits they are
    const Path& folder() const { return folder_; }
    // Those of windows that are gone; reads the folder, on any thread.
    static std::vector<Path> lostIn(const Path& folder);
    // Taken over: it goes once what came out of it is in this window's journal.
    void takeOver(const Path& journal);
    void forget(const Path& journal);
    void end();  // what is unsaved is discarded on purpose

  Q_SIGNALS:
    void told(const QString& sentence, bool bad);

  private:
    void noteEdit();
    void write();

    Document& document_;
    Jobs& jobs_;
    std::optional<Path> kitFile_;
    Path folder_, own_;  // empty: none is kept
    std::unique_ptr<QLockFile> held_;
    std::set<std::string> written_;  // originals that stand in the journal
    bool writing_ = false;
    Path takenOver_;
    QTimer timer_;
};

// Of a journal that a window left: the kit's file name, or its title where it has none, and when it
// was last written, in words. Reads files; any thread.
std::pair<QString, QString> lostKit(const Path& journal);

}  // namespace zl::app
