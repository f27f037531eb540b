// SPDX-License-Identifier: GPL-3.0-or-later
// Rehearse: the released file is handed to the stand-in host as a draft, then published; what the host said, and every
// surface with the host's own copy of the file, light or dark, at true pixels.
#pragma once

#include <QWidget>

#include "readings_desk.h"
#include "rehearsal/host.h"
#include "rehearsal/surfaces.h"
#include "session.h"

class QLabel;
class QPushButton;
class QScrollArea;
class QToolButton;
class QVBoxLayout;

namespace zl::app {

class RehearseView : public QWidget {
    Q_OBJECT
  public:
    RehearseView(Session& session, ReadingsDesk& desk, Path hostFolder, QWidget* bench, QWidget* parent = nullptr);
    // The file that the chosen piece would be handed over with; nothing while it is not released.
    std::function<std::optional<Path>(const std::string&)> releasedFile;
    void handOver(const Path& file);
    void publish();
    void refresh();

  Q_SIGNALS:
    void releaseAsked();
    void fileAsked();  // wants another file from the person

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    struct Shown {
        HostAnswer answer;
        HostState state = HostState::nothing;
        QString file;
        std::vector<Surface> surfaces;
    };
    struct Errand {
        Path host;
        std::string pieceId;
        Brief brief;
        Posted posted;
        std::optional<Path> handOver;  // nothing: look at what the host has
        bool publish = false;
    };
    static Result<Shown> run(const Errand& errand);
    void send(std::optional<Path> file, bool publish);
    Path hostOfKit() const;
    const Shown* shown() const;
    void fill();
    void flow();

    Session& session_;
    ReadingsDesk& desk_;
    Path hostFolder_;
    std::map<std::string, Shown> shown_;
    QLabel *headline_, *empty_, *said_, *file_, *state_;
    QPushButton *handOver_, *publish_, *other_, *toRelease_;
    QToolButton *light_, *dark_;
    QScrollArea* scroll_;
    QWidget* board_;
    QVBoxLayout* surfaces_;
    std::vector<QWidget*> pictures_;
    bool busy_ = false;
};

}  // namespace zl::app
