// SPDX-License-Identifier: GPL-3.0-or-later
// Files that come in: pictures become layers, fonts become the kit's own. Read and decoded aside.
#pragma once

#include <QObject>
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

    // As picture layers that fill the frame, on top. What cannot be read is told. A reference is
    // seen while making and never released.
    void bringIn(const std::vector<Path>& files, bool reference = false);
    void bringInVideo(const Path& file);
    void bringInClip(const Path& file);  // the whole video, as a layer that moves
    void bringIn(Bytes bytes, const std::string& name, bool reference = false);
    void bringInFont(Bytes bytes, const std::string& name);

  Q_SIGNALS:
    void videoBrought(const QString& file);  // a still is to be picked from it
    void told(const QString& sentence, bool bad);

  private:
    Document& document_;
    Choice& choice_;
    KitFiles& files_;
    Jobs& jobs_;
    std::shared_ptr<InkStore> inks_;
};

}  // namespace zl::app
