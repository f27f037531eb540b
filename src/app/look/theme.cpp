// SPDX-License-Identifier: GPL-3.0-or-later
#include "look/theme.h"

#include <QApplication>
#include <QDir>
#include <QFile>
#include <QFontDatabase>
#include <QIconEngine>
#include <QJsonDocument>
#include <QJsonObject>
#include <QPainter>
#include <QPainterPath>
#include <QSvgRenderer>
#include <QToolTip>

#include "base/data_files.h"
#include "look/style.h"

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

void loadFonts() {
    static const bool once = [] {
        for (const char* file :
             {"ZincSans-Regular.otf", "ZincSans-Medium.otf", "ZincSans-SemiBold.otf"})
            QFontDatabase::addApplicationFont(
                dataPath(QStringLiteral("fonts/") + QLatin1String(file)));
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
    for (auto it = json.begin(); it != json.end(); ++it)
        theme.tokens_[it.key().toStdString()] = QColor(it.value().toString());
    worn = theme;
    wornName = name;
    if (!qobject_cast<Style*>(app.style())) {
        loadFonts();
        app.setStyle(new Style);
        app.setFont(interfaceFont(13));
    }
    app.setPalette(sheetPalette());
    QToolTip::setPalette(sheetPalette());
    for (QWidget* widget : QApplication::allWidgets()) {
        if (widget->property("onLedge").toBool()) widget->setPalette(ledgePalette());
        widget->update();
    }
    return true;
}

QFont interfaceFont(int px, int weight) {
    static QHash<std::pair<int, int>, QFont> made;
    if (const auto found = made.constFind({px, weight}); found != made.constEnd()) return *found;
    QFont font("Zinc Sans");
    font.setPixelSize(px);
    font.setWeight(static_cast<QFont::Weight>(weight));
    font.setHintingPreference(QFont::PreferNoHinting);
    made.insert({px, weight}, font);
    return font;
}

QString heavy(const QString& words) {
    return "<span style='font-weight:600'>" + words.toHtmlEscaped() + "</span>";
}

QString counted(qsizetype count, const QString& one, const QString& many) {
    return count == 1 ? one : many.arg(count);
}

QString literally(QString words) {
    return words.replace('&', "&&");
}

void drawIcon(QPainter& painter, const QString& name, const QRectF& box, const QColor& colour) {
    // Drawn once for each colour and size: a list of layers shows two dozen of them.
    static QHash<QString, QPixmap> drawn;
    const double dots = painter.device()->devicePixelRatioF();
    const QSize size = (box.size() * dots).toSize();
    QPixmap& kept =
        drawn[QString("%1 %2 %3x%4").arg(name, colour.name()).arg(size.width()).arg(size.height())];
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

namespace {

// Drawn when it is shown, so that it wears the theme of that moment.
class LineIcon : public QIconEngine {
  public:
    LineIcon(QString name, const char* token) : name_(std::move(name)), token_(token) {}
    void paint(QPainter* painter, const QRect& rect, QIcon::Mode mode, QIcon::State) override {
        constexpr double faded = 0.4;
        painter->save();
        painter->setOpacity(mode == QIcon::Disabled ? faded : 1);
        drawIcon(*painter, name_, rect, worn[token_]);
        painter->restore();
    }
    QPixmap pixmap(const QSize& size, QIcon::Mode mode, QIcon::State state) override {
        QPixmap pixmap(size);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        paint(&painter, QRect({0, 0}, size), mode, state);
        return pixmap;
    }
    QIconEngine* clone() const override { return new LineIcon(*this); }

  private:
    QString name_;
    const char* token_;
};

}  // namespace

QIcon lineIcon(const QString& name, const char* token) {
    return QIcon(new LineIcon(name, token));
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
        painter.drawPolygon(QPolygonF({{c.x(), c.y() - r - 1},
                                       {c.x() + r + 1, c.y()},
                                       {c.x(), c.y() + r + 1},
                                       {c.x() - r - 1, c.y()}}));
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
