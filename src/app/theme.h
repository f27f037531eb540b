// SPDX-License-Identifier: GPL-3.0-or-later
// The look: tokens (data/theme/*.json), the style sheet filled with them, the interface's fonts and icons.
#pragma once

#include <QColor>
#include <QFont>
#include <QHash>
#include <QIcon>
#include <QString>

#include "readings/reading.h"

class QApplication;
class QPainter;

namespace zl::app {

// Sizes on the 4 px grid.
inline constexpr int railWidth = 190, benchWidth = 276, headerHeight = 46, ledgeHeight = 88;

class Theme {
  public:
    // The one in use; "zinc-sheet" until another is chosen.
    static const Theme& now();
    // Loads data/theme/NAME.json: tokens, palette, fonts. An unknown name leaves everything as it is.
    static bool wear(QApplication& app, const QString& name);
    // Puts the style sheet on, filled with the tokens. Once the window is built: each widget that finds its parent with a
    // sheet on is styled anew, which costs a third of the start.
    static void dress(QApplication& app);
    static QString name();

    QColor operator[](const char* token) const { return tokens_.value(QLatin1String(token)); }

  private:
    QHash<QString, QColor> tokens_;
};

// The interface's font at 11, 13 or 17 px; weight 400, 500 or 600.
QFont interfaceFont(int px, int weight = 400);

// Words in the heavy weight for a label with mixed weights; the font has no bold, only semibold.
QString heavy(const QString& words);

// A line icon of ours, drawn in a token's colour: "picture", "lettering", "eye", ...
QIcon lineIcon(const QString& name, const char* token = "ink");
void drawIcon(QPainter& painter, const QString& name, const QRectF& box, const QColor& colour);

// The verdict's shape: pass a bar, watch a half-filled square, fail a rhombus, not measured a ring.
void drawVerdict(QPainter& painter, const QRectF& box, Verdict verdict, bool onLedge);
QColor verdictColour(Verdict verdict, bool onLedge);

}  // namespace zl::app
