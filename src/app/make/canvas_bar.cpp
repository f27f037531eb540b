// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/canvas_bar.h"

#include <QActionGroup>
#include <QButtonGroup>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QToolButton>

#include "look/theme.h"
#include "widgets/panel.h"

namespace zl::app {
namespace {

QPixmap swatchOf(const Backdrop& backdrop) {
    QPixmap pixmap(16, 16);
    pixmap.fill(QColor(backdrop.one.red, backdrop.one.green, backdrop.one.blue));
    QPainter painter(&pixmap);
    for (int i = 0; i < 8 && backdrop.checks; ++i)
        painter.fillRect(4 * ((2 * i + (i / 2) % 2) % 4), 4 * (i / 2), 4, 4, QColor(170, 176, 180));
    painter.setPen(Theme::now()["seam-strong"]);
    painter.drawRect(0, 0, 15, 15);
    return pixmap;
}

}  // namespace

CanvasBar::CanvasBar(Session& session, Canvas& canvas) : session_(session), canvas_(canvas) {
    auto* whole = new QHBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    const auto [bar, row] = viewBar(12, 14);
    whole->addWidget(bar);
    row->setSpacing(4);
    addBackdrops(row);
    row->addSpacing(14);
    addZones(row);
    row->addSpacing(14);
    addZooms(row);
    row->addStretch();
    frameWords_ = new QLabel;
    frameWords_->setObjectName("frameWords");
    frameWords_->setProperty("soft", true);
    row->addWidget(frameWords_);
    connect(&canvas_, &Canvas::zoomChanged, this, &CanvasBar::tellZoom);
    connect(&canvas_, &Canvas::stepPainted, this, &CanvasBar::tellZoom);
    connect(&session_, &Session::kitChanged, this, &CanvasBar::tellZoom);
    connect(&session_, &Session::chosen, this, &CanvasBar::tellZoom);
    const auto another = [this] {
        const Brief* brief = session_.brief();
        if (!brief || !brief->zone(canvas_.zoneAlone())) canvas_.setZoneAlone({});
        tellZone();
    };
    connect(&session_, &Session::chosen, this, another);
    connect(&session_, &Session::opened, this, another);
    connect(&session_, &Session::kitChanged, this, another);
    another();
}

void CanvasBar::addBackdrops(QHBoxLayout* row) {
    auto* caption = new QLabel(tr("Backdrop"));
    caption->setProperty("soft", true);
    row->addWidget(caption);
    row->addSpacing(4);
    auto* group = new QButtonGroup(this);
    const std::tuple<QString, const char*, Backdrop> backdrops[] = {
        {tr("Checks"), "backdropChecks", {true, {255, 255, 255, 255}, {204, 207, 209, 255}}},
        {tr("White"), "backdropWhite", {false, {255, 255, 255, 255}, {}}},
        {tr("Mid grey"), "backdropGrey", {false, {128, 128, 128, 255}, {}}},
        {tr("Black"), "backdropBlack", {false, {0, 0, 0, 255}, {}}}};
    for (const auto& [name, objectName, backdrop] : backdrops) {
        auto* swatch = new QToolButton;
        swatch->setObjectName(objectName);
        swatch->setCheckable(true);
        swatch->setChecked(backdrop.checks);
        swatch->setAccessibleName(tr("Backdrop: %1").arg(name));
        swatch->setToolTip(name);
        swatch->setIcon(swatchOf(backdrop));
        swatch->setIconSize({16, 16});
        group->addButton(swatch);
        connect(swatch, &QToolButton::clicked, this,
                [this, b = backdrop] { canvas_.setBackdrop(b); });
        row->addWidget(swatch);
    }
}

void CanvasBar::addZones(QHBoxLayout* row) {
    zones_ = new QToolButton;
    zones_->setObjectName("zones");
    zones_->setText(tr("Zones"));
    zones_->setCheckable(true);
    zones_->setChecked(true);
    zones_->setAccessibleName(tr("Show the zones of the brief"));
    zones_->setToolTip(tr("What a destination covers, shows and asks to be kept inside"));
    connect(zones_, &QToolButton::toggled, &canvas_, &Canvas::setZonesShown);
    row->addWidget(zones_);
    zoneMenu_ = new QToolButton;
    zoneMenu_->setObjectName("zoneMenu");
    zoneMenu_->setText(tr("all  ▾"));
    zoneMenu_->setProperty("words", true);
    zoneMenu_->setPopupMode(QToolButton::InstantPopup);
    zoneMenu_->setAccessibleName(tr("Which zones are shown"));
    auto* menu = new QMenu(zoneMenu_);
    zoneMenu_->setMenu(menu);
    dimmed_ = new QAction(tr("Dim what is not shown there"),
                          zoneMenu_);  // not the menu's, which is filled anew
    dimmed_->setObjectName("dimOutside");
    dimmed_->setCheckable(true);
    connect(dimmed_, &QAction::toggled, &canvas_, &Canvas::setOutsideDimmed);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] { fillZones(menu); });
    row->addWidget(zoneMenu_);
}

// Which zones are drawn: all, or one alone; what it does not show can be dimmed.
void CanvasBar::fillZones(QMenu* menu) {
    menu->clear();
    auto* group = new QActionGroup(menu);
    const auto add = [&](const QString& words, const std::string& id) {
        QAction* action = menu->addAction(literally(words), this, [this, id] {
            canvas_.setZoneAlone(id);
            zones_->setChecked(true);
            tellZone();
        });
        action->setObjectName("zone-" + QString::fromStdString(id.empty() ? "all" : id));
        action->setCheckable(true);
        action->setChecked(canvas_.zoneAlone() == id);
        group->addAction(action);
    };
    add(tr("All zones"), {});
    if (const Brief* brief = session_.brief())
        for (const Zone& zone : brief->zones)
            add(tr("Only: %1").arg(QString::fromStdString(zone.title)), zone.id);
    menu->addSeparator();
    menu->addAction(dimmed_);
    menu->addSeparator();
    menu->addAction(tr("A brief of your own from this …"), this, &CanvasBar::briefAsked)
        ->setObjectName("ownBriefFromZones");
}

void CanvasBar::tellZone() {
    const Brief* brief = session_.brief();
    const Zone* alone = brief ? brief->zone(canvas_.zoneAlone()) : nullptr;
    const bool some = brief && !brief->zones.empty();
    zoneMenu_->setText(
        QString("%1  ▾").arg(alone ? QString::fromStdString(alone->title) : tr("all")));
    zoneMenu_->setEnabled(some);
    zoneMenu_->setToolTip(some ? tr("Show one zone alone, or dim what it does not show")
                               : tr("This brief has no zones."));
}

void CanvasBar::addZooms(QHBoxLayout* row) {
    const std::tuple<QString, const char*, double> zooms[] = {
        {tr("fit"), "zoomFit", 0}, {tr("100 %"), "zoom100", 1}, {tr("200 %"), "zoom200", 2}};
    zooms_ = new QButtonGroup(this);
    for (const auto& [name, objectName, zoom] : zooms) {
        auto* button = new QToolButton;
        button->setObjectName(objectName);
        button->setText(name);
        button->setCheckable(true);
        button->setChecked(zoom == 0);
        button->setAccessibleName(tr("Zoom: %1").arg(name));
        zooms_->addButton(button);
        connect(button, &QToolButton::clicked, this, [this, z = zoom] { canvas_.setZoom(z); });
        row->addWidget(button);
    }
}

void CanvasBar::tellZoom() {
    const Piece* piece = session_.piece();
    frameWords_->setText(piece ? QString("%1 × %2  ·  %3  ·  %4 %")
                                     .arg(piece->frame.width)
                                     .arg(piece->frame.height)
                                     .arg(QString::fromStdString(shapeName(piece->frame)))
                                     .arg(qRound(canvas_.shownScale() * 100))
                               : QString());
    zooms_->setExclusive(false);
    const double z = canvas_.zoom();
    for (int i = 0; i < 3; ++i) zooms_->buttons().at(i)->setChecked(z == i || (i == 0 && z <= 0));
    zooms_->setExclusive(true);
}

}  // namespace zl::app
