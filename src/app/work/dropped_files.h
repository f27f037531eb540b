// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QMimeData>
#include <QUrl>
#include <vector>

#include "base/file.h"

namespace zl::app {

// The files of this machine among what is dropped.
inline std::vector<Path> droppedFiles(const QMimeData& dropped) {
    std::vector<Path> files;
    for (const QUrl& url : dropped.urls())
        if (url.isLocalFile()) files.emplace_back(url.toLocalFile().toStdString());
    return files;
}

}  // namespace zl::app
