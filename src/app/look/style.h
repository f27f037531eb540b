// SPDX-License-Identifier: GPL-3.0-or-later
// How controls look. They are drawn from the palette they wear, so that another theme is another
// palette and nothing else.
#pragma once

#include <QProxyStyle>

#include "base/verdict.h"

namespace zl::app {

// Properties a widget can be given before it is shown:
//   QPushButton "primary": the one thing to do here; "place", "mend": in findings; QToolButton
//   "words": a button among fields, "cell": one of a grid; QListWidget "field": to choose from;
//   QLabel "soft": said aside; any widget "onLedge": it and what it holds lie on the ledge's dark
//   metal.
class Style : public QProxyStyle {
    Q_OBJECT
  public:
    Style();
    void polish(QWidget* widget) override;
    using QProxyStyle::polish;
    void drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* painter,
                       const QWidget* widget) const override;
    void drawControl(ControlElement element, const QStyleOption* option, QPainter* painter,
                     const QWidget* widget) const override;
    void drawComplexControl(ComplexControl control, const QStyleOptionComplex* option,
                            QPainter* painter, const QWidget* widget) const override;
    QRect subElementRect(SubElement element, const QStyleOption* option,
                         const QWidget* widget) const override;
    QRect subControlRect(ComplexControl control, const QStyleOptionComplex* option, SubControl part,
                         const QWidget* widget) const override;
    QSize sizeFromContents(ContentsType type, const QStyleOption* option, const QSize& contents,
                           const QWidget* widget) const override;
    int pixelMetric(PixelMetric metric, const QStyleOption* option,
                    const QWidget* widget) const override;
    int styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget,
                  QStyleHintReturn* more) const override;

  private:
    template <class Row>
    void drawQuietly(ControlElement element, const Row& row, QPainter* painter,
                     const QWidget* widget) const;
};

// Beside the usual roles, this style reads Mid as the line around a control, Midlight as a seam,
// AlternateBase as what the pointer is over or what is chosen, PlaceholderText as soft words,
// BrightText as what failed, Link as what passed, LinkVisited as what to watch.
QPalette sheetPalette();
QPalette ledgePalette();
QPalette::ColorRole roleOf(Verdict verdict);

}  // namespace zl::app
