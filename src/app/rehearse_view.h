// SPDX-License-Identifier: GPL-3.0-or-later
// Rehearse: the released file is handed to the stand-in host; what it said, and the surfaces with the accepted file.
#pragma once

#include <QWidget>

#include "rehearsal/host.h"
#include "rehearsal/surfaces.h"
#include "session.h"

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace zl::app {

class RehearseView : public QWidget {
    Q_OBJECT
  public:
    RehearseView(Session& session, Path hostFolder, QWidget* bench, QWidget* parent = nullptr);
    // The file that the chosen piece would be handed over with; nothing while it is not released.
    std::function<std::optional<Path>(const std::string&)> releasedFile;
    void handOver(const Path& file);
    void refresh();

  Q_SIGNALS:
    void releaseAsked();
    void fileAsked();  // wants another file from the person

  private:
    struct Shown {
        HostAnswer answer;
        QString file;
        std::vector<Surface> surfaces;
    };
    struct Outcome {
        Result<HostAnswer> answer;
        std::vector<Surface> surfaces;
    };
    static Outcome rehearse(const Path& file, const Path& hostFolder, const Piece& piece, const Brief& brief, const Posted& posted);
    void lookBack();  // shows what the host accepted earlier
    void fill(const Shown* shown);

    Session& session_;
    Path hostFolder_;
    std::map<std::string, Shown> shown_;
    QLabel *headline_, *empty_, *said_, *file_, *state_;
    QPushButton *handOver_, *other_, *toRelease_;
    QWidget* board_;
    QVBoxLayout* surfaces_;
    std::vector<QWidget*> pictures_;
    bool busy_ = false;
};

}  // namespace zl::app
