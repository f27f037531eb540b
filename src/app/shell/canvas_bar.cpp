// SPDX-License-Identifier: GPL-3.0-or-later
// The bar over the canvas: backdrops, zones, zoom.
#include <QActionGroup>
#include <QButtonGroup>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QToolButton>

#include "ask/brief_dialog.h"
#include "look/theme.h"
#include "shell/main_window.h"
#include "widgets/panel.h"

namespace zl::app {

QWidget* MainWindow::buildCanvasBar() {
    const auto made = viewBar(12, 14);
    QWidget* bar = made.first;
    QHBoxLayout* row = made.second;
    row->setSpacing(4);
    auto* caption = new QLabel(tr("Backdrop"));
    caption->setProperty("soft", true);
    row->addWidget(caption);
    row->addSpacing(4);
    auto* group = new QButtonGroup(bar);
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
        QPixmap pixmap(16, 16);
        pixmap.fill(QColor(backdrop.one.red, backdrop.one.green, backdrop.one.blue));
        QPainter painter(&pixmap);
        if (backdrop.checks)
            for (int i = 0; i < 8; ++i)
                painter.fillRect(4 * ((2 * i + (i / 2) % 2) % 4), 4 * (i / 2), 4, 4,
                                 QColor(170, 176, 180));
        painter.setPen(Theme::now()["seam-strong"]);
        painter.drawRect(0, 0, 15, 15);
        painter.end();
        swatch->setIcon(pixmap);
        swatch->setIconSize({16, 16});
        group->addButton(swatch);
        connect(swatch, &QToolButton::clicked, this,
                [this, b = backdrop] { canvas_->setBackdrop(b); });
        row->addWidget(swatch);
    }
    row->addSpacing(14);
    auto* zones = new QToolButton;
    zones->setObjectName("zones");
    zones->setText(tr("Zones"));
    zones->setCheckable(true);
    zones->setChecked(true);
    zones->setAccessibleName(tr("Show the zones of the brief"));
    zones->setToolTip(tr("What a destination covers, shows and asks to be kept inside"));
    connect(zones, &QToolButton::toggled, canvas_, &Canvas::setZonesShown);
    row->addWidget(zones);
    row->addWidget(buildZoneMenu(zones));
    row->addSpacing(14);
    const std::tuple<QString, const char*, double> zooms[] = {
        {tr("fit"), "zoomFit", 0}, {tr("100 %"), "zoom100", 1}, {tr("200 %"), "zoom200", 2}};
    auto* zoomGroup = new QButtonGroup(bar);
    for (const auto& [name, objectName, zoom] : zooms) {
        auto* button = new QToolButton;
        button->setObjectName(objectName);
        button->setText(name);
        button->setCheckable(true);
        button->setChecked(zoom == 0);
        button->setAccessibleName(tr("Zoom: %1").arg(name));
        zoomGroup->addButton(button);
        connect(button, &QToolButton::clicked, this, [this, z = zoom] { canvas_->setZoom(z); });
        row->addWidget(button);
    }
    row->addStretch();
    frameWords_ = new QLabel;
    frameWords_->setObjectName("frameWords");
    frameWords_->setProperty("soft", true);
    row->addWidget(frameWords_);
    const auto tellZoom = [this, zoomGroup] {
        const Piece* piece = session_.piece();
        frameWords_->setText(piece ? QString("%1 × %2  ·  %3  ·  %4 %")
                                         .arg(piece->frame.width)
                                         .arg(piece->frame.height)
                                         .arg(QString::fromStdString(shapeName(piece->frame)))
                                         .arg(qRound(canvas_->shownScale() * 100))
                                   : QString());
        zoomGroup->setExclusive(false);
        const double z = canvas_->zoom();
        for (int i = 0; i < 3; ++i)
            zoomGroup->buttons().at(i)->setChecked(z == i || (i == 0 && z <= 0));
        zoomGroup->setExclusive(true);
    };
    connect(canvas_, &Canvas::zoomChanged, this, tellZoom);
    connect(canvas_, &Canvas::stepPainted, this, tellZoom);
    connect(&session_, &Session::kitChanged, this, tellZoom);
    connect(&session_, &Session::chosen, this, tellZoom);
    return bar;
}

// Which zones are drawn: all, or one alone; what it does not show can be dimmed.
QToolButton* MainWindow::buildZoneMenu(QToolButton* shown) {
    auto* button = new QToolButton;
    button->setObjectName("zoneMenu");
    button->setText(tr("all  ▾"));
    button->setProperty("words", true);
    button->setPopupMode(QToolButton::InstantPopup);
    button->setAccessibleName(tr("Which zones are shown"));
    auto* menu = new QMenu(button);
    button->setMenu(menu);
    const auto rename = [this, button] {
        const Brief* brief = session_.brief();
        const Zone* alone = brief ? brief->zone(canvas_->zoneAlone()) : nullptr;
        button->setText(
            QString("%1  ▾").arg(alone ? QString::fromStdString(alone->title) : tr("all")));
        button->setEnabled(brief && !brief->zones.empty());
        button->setToolTip(button->isEnabled()
                               ? tr("Show one zone alone, or dim what it does not show")
                               : tr("This brief has no zones."));
    };
    auto* dimmed = new QAction(tr("Dim what is not shown there"),
                               button);  // not the menu's, which is filled anew
    dimmed->setObjectName("dimOutside");
    dimmed->setCheckable(true);
    connect(dimmed, &QAction::toggled, canvas_, &Canvas::setOutsideDimmed);
    connect(menu, &QMenu::aboutToShow, this, [this, menu, dimmed, rename, shown] {
        menu->clear();
        auto* group = new QActionGroup(menu);
        const auto add = [&](const QString& words, const std::string& id) {
            QAction* action = menu->addAction(words, this, [this, id, rename, shown] {
                canvas_->setZoneAlone(id);
                shown->setChecked(true);
                rename();
            });
            action->setObjectName("zone-" + QString::fromStdString(id.empty() ? "all" : id));
            action->setCheckable(true);
            action->setChecked(canvas_->zoneAlone() == id);
            group->addAction(action);
        };
        add(tr("All zones"), {});
        if (const Brief* brief = session_.brief())
            for (const Zone& zone : brief->zones)
                add(tr("Only: %1").arg(QString::fromStdString(zone.title)), zone.id);
        menu->addSeparator();
        menu->addAction(dimmed);
        menu->addSeparator();
        menu->addAction(tr("A brief of your own from this …"), this, [this] { openBriefDialog(); })
            ->setObjectName("ownBriefFromZones");
    });
    const auto another = [this, rename] {
        const Brief* brief = session_.brief();
        if (!brief || !brief->zone(canvas_->zoneAlone())) canvas_->setZoneAlone({});
        rename();
    };
    connect(&session_, &Session::chosen, this, another);
    connect(&session_, &Session::opened, this, another);
    connect(&session_, &Session::kitChanged, this, another);
    another();
    return button;
}

void MainWindow::openBriefDialog() {
    const auto draw = [this](auto drawn, auto ended) {
        canvas_->drawRegion(std::move(drawn));
        canvas_->whenRegionEnds(std::move(ended));
    };
    (new BriefDialog(session_, draw, this))->open();
}

}  // namespace zl::app
