// SPDX-License-Identifier: GPL-3.0-or-later
// The look: tokens (data/theme/*.json), the interface's fonts and icons.
#pragma once

#include <QColor>
#include <QFont>
#include <QIcon>
#include <QString>
#include <map>

#include "base/verdict.h"

class QApplication;
class QPainter;

namespace zl::app {

// Sizes on the 4 px grid.
inline constexpr int railWidth = 190, benchWidth = 276, headerHeight = 46, ledgeHeight = 88;

class Theme {
  public:
    // The one in use; "zinc-sheet" until another is chosen.
    static const Theme& now();
    // Loads data/theme/NAME.json and dresses every window with it. An unknown name leaves
    // everything as it is.
    static bool wear(QApplication& app, const QString& name);
    static QString name();

    QColor operator[](const char* token) const {
        const auto found = tokens_.find(token);
        return found == tokens_.end() ? QColor() : found->second;
    }

  private:
    std::map<std::string, QColor, std::less<>> tokens_;
};

// The interface's font at 11, 13 or 17 px; weight 400, 500 or 600.
QFont interfaceFont(int px, int weight = 400);

// Words in the heavy weight for a label with mixed weights; the font has no bold, only semibold.
QString heavy(const QString& words);

// "1 photo", "2 photos": `one` as it stands, or `many` with the number in its place.
QString counted(qsizetype count, const QString& one, const QString& many);

// A person's own words on a button or in a menu: their "&" is no key.
QString literally(QString words);

// A line icon of ours, drawn in a token's colour whatever theme is worn: "picture", "lettering",
// "eye", ...
QIcon lineIcon(const QString& name, const char* token = "ink");
void drawIcon(QPainter& painter, const QString& name, const QRectF& box, const QColor& colour);

// The verdict's shape: pass a bar, watch a half-filled square, fail a rhombus, not measured a ring.
void drawVerdict(QPainter& painter, const QRectF& box, Verdict verdict, bool onLedge);
QColor verdictColour(Verdict verdict, bool onLedge);

}  // namespace zl::app
