// SPDX-License-Identifier: GPL-3.0-or-later
#include "theme.h"

#include <QApplication>
#include <QDir>
#include <QFile>
#include <QFontDatabase>
#include <QJsonDocument>
#include <QJsonObject>
#include <QPainter>
#include <QPainterPath>
#include <QPalette>
#include <QRegularExpression>
#include <QStyleFactory>
#include <QSvgRenderer>
#include <memory>

#include "base/data_files.h"

namespace zl::app {
namespace {

Theme worn;
QString wornName;

QString dataPath(const QString& inside) {
    const auto data = dataFolder();
    return data ? QString::fromStdString(data->string()) + "/" + inside : QString();
}

QByteArray contents(const QString& inside) {
    QFile file(dataPath(inside));
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
}

QPalette paletteOf(const Theme& t) {
    QPalette p;
    p.setColor(QPalette::Window, t["sheet"]);
    p.setColor(QPalette::WindowText, t["ink"]);
    p.setColor(QPalette::Base, t["sheet-raised"]);
    p.setColor(QPalette::AlternateBase, t["sheet"]);
    p.setColor(QPalette::Text, t["ink"]);
    p.setColor(QPalette::Button, t["sheet-raised"]);
    p.setColor(QPalette::ButtonText, t["ink"]);
    p.setColor(QPalette::Highlight, t["accent"]);
    p.setColor(QPalette::HighlightedText, t["on-accent"]);
    p.setColor(QPalette::ToolTipBase, t["ledge"]);
    p.setColor(QPalette::ToolTipText, t["on-ledge"]);
    p.setColor(QPalette::PlaceholderText, t["ink-soft"]);
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        p.setColor(QPalette::Disabled, role, t["ink-soft"]);
    return p;
}

void loadFonts() {
    static const bool once = [] {
        for (const char* file : {"ZincSans-Regular.otf", "ZincSans-Medium.otf", "ZincSans-SemiBold.otf"})
            QFontDatabase::addApplicationFont(dataPath(QStringLiteral("fonts/") + QLatin1String(file)));
        return true;
    }();
    static_cast<void>(once);
}

}  // namespace

const Theme& Theme::now() {
    return worn;
}
QString Theme::name() {
    return wornName;
}

bool Theme::wear(QApplication& app, const QString& name) {
    const QJsonObject json = QJsonDocument::fromJson(contents("theme/" + name + ".json")).object();
    if (json.isEmpty()) return false;
    Theme theme;
    for (auto it = json.begin(); it != json.end(); ++it) theme.tokens_.insert(it.key(), QColor(it.value().toString()));
    worn = theme;
    wornName = name;
    loadFonts();
    app.setStyle(QStyleFactory::create("Fusion"));
    app.setFont(interfaceFont(13));
    app.setPalette(paletteOf(theme));
    return true;
}

void Theme::dress(QApplication& app) {
    QString sheet = QString::fromUtf8(contents("theme/window.qss"));
    static const QRegularExpression token("@([a-z-]+)");
    for (auto match = token.match(sheet); match.hasMatch(); match = token.match(sheet))
        sheet.replace(match.capturedStart(), match.capturedLength(),
                      match.captured(1) == "icons" ? dataPath("icons") : worn.tokens_.value(match.captured(1), QColor("magenta")).name());
    app.setStyleSheet(sheet);
}

QFont interfaceFont(int px, int weight) {
    QFont font("Zinc Sans");
    font.setPixelSize(px);
    font.setWeight(static_cast<QFont::Weight>(weight));
    font.setHintingPreference(QFont::PreferNoHinting);
    return font;
}

QString heavy(const QString& words) {
    return "<span style='font-weight:600'>" + words.toHtmlEscaped() + "</span>";
}

void drawIcon(QPainter& painter, const QString& name, const QRectF& box, const QColor& colour) {
    // Drawn once for each colour and size: a list of layers shows two dozen of them.
    static QHash<QString, QPixmap> drawn;
    const double dots = painter.device()->devicePixelRatioF();
    const QSize size = (box.size() * dots).toSize();
    QPixmap& kept = drawn[QString("%1 %2 %3x%4").arg(name, colour.name()).arg(size.width()).arg(size.height())];
    if (kept.isNull()) {
        QByteArray svg = contents("icons/" + name + ".svg");
        svg.replace("currentColor", colour.name().toLatin1());
        kept = QPixmap(size);
        kept.fill(Qt::transparent);
        QPainter into(&kept);
        QSvgRenderer(svg).render(&into, QRectF({0, 0}, QSizeF(size)));
        into.end();
        kept.setDevicePixelRatio(dots);
    }
    painter.drawPixmap(box.topLeft(), kept);
}

QIcon lineIcon(const QString& name, const char* token) {
    QIcon icon;
    for (const int scale : {1, 2}) {
        constexpr int box = 20;
        for (const auto mode : {QIcon::Normal, QIcon::Disabled}) {
            QPixmap pixmap(box * scale, box * scale);
            pixmap.fill(Qt::transparent);
            QPainter painter(&pixmap);
            if (mode == QIcon::Disabled) painter.setOpacity(0.4);
            drawIcon(painter, name, QRectF(0, 0, box * scale, box * scale), worn[token]);
            painter.end();
            pixmap.setDevicePixelRatio(scale);
            icon.addPixmap(pixmap, mode);
        }
    }
    return icon;
}

QColor verdictColour(Verdict verdict, bool onLedge) {
    const Theme& t = worn;
    switch (verdict) {
        case Verdict::pass:
            return t[onLedge ? "ledge-pass" : "pass"];
        case Verdict::watch:
            return t[onLedge ? "ledge-watch" : "watch"];
        case Verdict::fail:
            return t[onLedge ? "ledge-fail" : "fail"];
        case Verdict::notMeasured:
            break;
    }
    return t[onLedge ? "on-ledge-soft" : "ink-soft"];
}

void drawVerdict(QPainter& painter, const QRectF& box, Verdict verdict, bool onLedge) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const QColor colour = verdictColour(verdict, onLedge);
    const QPointF c = box.center();
    const double r = box.width() / 2;
    painter.setPen(Qt::NoPen);
    painter.setBrush(colour);
    if (verdict == Verdict::pass) {
        painter.drawRect(QRectF(c.x() - r, c.y() - 2, 2 * r, 4));
    } else if (verdict == Verdict::fail) {
        painter.drawPolygon(QPolygonF({{c.x(), c.y() - r - 1}, {c.x() + r + 1, c.y()}, {c.x(), c.y() + r + 1}, {c.x() - r - 1, c.y()}}));
    } else if (verdict == Verdict::watch) {
        painter.drawRect(QRectF(c.x() - r, c.y() - r, r, 2 * r));
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(colour, 1.5));
        painter.drawRect(QRectF(c.x() - r + 0.75, c.y() - r + 0.75, 2 * r - 1.5, 2 * r - 1.5));
    } else {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(colour, 1.5));
        painter.drawEllipse(c, r - 1, r - 1);
    }
    painter.restore();
}

}  // namespace zl::app
