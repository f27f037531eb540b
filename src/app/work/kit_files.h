// SPDX-License-Identifier: GPL-3.0-or-later
// The file of the kit that is open: opened, saved and held against other windows, all aside.
#pragma once

#include <QLockFile>
#include <QObject>
#include <QStringList>
#include <memory>
#include <optional>

#include "base/file.h"
#include "work/journal.h"

namespace zl::app {

// Paths that were used last and are still there, newest first: "recentKits", "recentPictures".
QStringList recentFiles(const char* what);
void rememberFile(const char* what, const Path& path);

class KitFiles : public QObject {
    Q_OBJECT
  public:
    KitFiles(Document& document, Journal& journal, Jobs& jobs, QObject* parent = nullptr);

    // `opened` and `saved` tell the end, `told` tells what went wrong.
    static QString lastKit();  // the path of the kit that was open last; empty when it is gone
    void newKit();
    void open(const Path& path);
    void openValue(const Kit& kit, const Path& path);
    void save(const Path& path, Replace replace, std::function<void(bool)> done = {});
    void recover(const Path& journal);  // opens it, changed and not saved
    const std::optional<Path>& path() const { return path_; }
    bool busy() const { return busy_; }

  Q_SIGNALS:
    void opening();  // another kit comes; its values are not here yet
    void opened();
    void saved();
    void told(const QString& sentence, bool bad);

  private:
    void reset(const Kit& kit, std::optional<Path> path);
    void refuse(const Error& error);
    bool editedSince(const Kit& before);  // and says so
    bool hold(const Path& path);  // marks the file as open here; false when another window has it

    Document& document_;
    Journal& journal_;
    Jobs& jobs_;
    std::optional<Path> path_;
    bool busy_ = false;
    std::unique_ptr<QLockFile> held_;
};

}  // namespace zl::app
