// SPDX-License-Identifier: GPL-3.0-or-later
// Files that come in: pictures become layers, fonts become the kit's own. Read and decoded aside.
#pragma once

#include <QObject>
#include <deque>
#include <functional>
#include <string>
#include <vector>

#include "base/file.h"
#include "render/render.h"
#include "work/choice.h"
#include "work/jobs.h"
#include "work/kit_files.h"

namespace zl::app {

// By its ending; what is in it is seen when it is opened.
bool isVideoName(const Path& file);

class Intake : public QObject {
    Q_OBJECT
  public:
    Intake(Document& document, Choice& choice, KitFiles& files, Jobs& jobs,
           std::shared_ptr<InkStore> inks, QObject* parent = nullptr);

    // As picture layers that fill the frame, on top, the first one lowest. What cannot be read is
    // told. A reference is seen while making and never released. What is on its way when another
    // kit is opened stays out.
    void bringIn(const std::vector<Path>& files, bool reference = false);
    void bringInVideo(const Path& file);
    void bringInClip(const Path& file);  // the whole video, as a layer that moves
    void bringIn(Bytes bytes, const std::string& name, bool reference = false);

  Q_SIGNALS:
    void videoBrought(const QString& file);  // a still is to be picked from it
    void told(const QString& sentence, bool bad);

  private:
    struct Coming {
        Path file;
        bool reference = false;
        std::string piece;  // the id of the one that it was meant for
    };
    void next();  // the first of those that wait, unless one is on its way
    void take(Bytes bytes, const Coming& what, std::function<void()> ended);
    void takeFont(Bytes bytes, const std::string& name, std::function<void()> ended);

    std::deque<Coming> waiting_;
    bool coming_ = false;
    int kit_ = 0;  // counts the kits that were opened
    Document& document_;
    Choice& choice_;
    KitFiles& files_;
    Jobs& jobs_;
    std::shared_ptr<InkStore> inks_;
};

}  // namespace zl::app
