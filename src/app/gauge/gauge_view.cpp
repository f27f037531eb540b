// SPDX-License-Identifier: GPL-3.0-or-later
#include "gauge/gauge_view.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "look/theme.h"
#include "measure/gauging.h"
#include "mend/mend.h"
#include "raster/footage.h"
#include "widgets/form.h"
#include "widgets/panel.h"
#include "words/words.h"

namespace zl::app {
namespace {

enum Pane { onWhite, onBlack, mapPane, onGrey, onPhoto, barePane };

constexpr int ownIndex = 3;    // in the list of photos
constexpr double closeUp = 8;  // zoom at which a place is judged

QString hexOf(std::uint32_t p) {
    return QString("#%1%2%3")
        .arg(redOf(p), 2, 16, QChar('0'))
        .arg(greenOf(p), 2, 16, QChar('0'))
        .arg(blueOf(p), 2, 16, QChar('0'))
        .toUpper();
}

// The marks' colours with their names and numbers.
QString legendOf(const std::vector<EdgeMark>& marks) {
    const std::pair<EdgeFault, QString> kinds[] = {{EdgeFault::fringed, GaugeView::tr("fringed")},
                                                   {EdgeFault::stepped, GaugeView::tr("stepped")},
                                                   {EdgeFault::cutOff, GaugeView::tr("cut off")},
                                                   {EdgeFault::speck, GaugeView::tr("specks")},
                                                   {EdgeFault::pinhole, GaugeView::tr("pinholes")},
                                                   {EdgeFault::haze, GaugeView::tr("haze")}};
    QStringList words;
    for (const auto& [fault, name] : kinds) {
        const auto n = std::count_if(marks.begin(), marks.end(),
                                     [f = fault](const EdgeMark& m) { return m.fault == f; });
        const Colour c = colourOf(fault);
        if (n > 0)
            words << QString("<span style='color:#%1'>■</span> %2 %3 px")
                         .arg(hexOf(packed(c.red, c.green, c.blue, 255)).mid(1), name)
                         .arg(n);
    }
    return words.isEmpty() ? GaugeView::tr("Edge map: nothing is marked.")
                           : GaugeView::tr("Edge map: ") + words.join(" &nbsp; ");
}

}  // namespace

GaugeView::GaugeView(Session& session, ReadingsDesk& desk, QWidget* bench, QWidget* parent)
    : QWidget(parent), session_(session), desk_(desk) {
    setObjectName("gaugeView");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("The edge on four backdrops"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(buildBar());
    buildPanes();
    column->addWidget(panesBody_, 1);
    legend_ = new QLabel;
    legend_->setObjectName("gaugeLegend");
    legend_->setTextFormat(Qt::RichText);
    legend_->setFont(interfaceFont(11));
    legend_->setContentsMargins(14, 4, 14, 4);
    column->addWidget(legend_);
    empty_ = new QLabel(
        tr("There is nothing to gauge yet.\nStart a piece and bring a picture in under Make."));
    empty_->setObjectName("gaugeEmpty");
    empty_->setAlignment(Qt::AlignCenter);
    empty_->setFont(interfaceFont(15, 500));
    column->addWidget(empty_, 1);

    buildBench(bench);
    connect(&desk_, &ReadingsDesk::changed, this, [this](const QString& id) {
        if (session_.piece() && id.toStdString() == session_.piece()->id) refresh();
    });
    connect(&session_, &Session::chosen, this, &GaugeView::refresh);
    connect(&session_, &Session::opened, this, [this] {
        before_.reset();
        mapping_ = {};
        refresh();
    });
    refresh();
}

void GaugeView::buildPanes() {
    panesBody_ = new QWidget;
    auto* grid = new QGridLayout(panesBody_);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(2);
    const std::pair<QString, const char*> titles[] = {
        {tr("white"), "gaugeWhite"},  {tr("black"), "gaugeBlack"},
        {tr("edge map"), "gaugeMap"}, {tr("mid grey"), "gaugeGrey"},
        {tr("photo"), "gaugePhoto"},  {tr("alpha alone"), "gaugeBare"}};
    for (int i = 0; i < paneCount; ++i) {
        auto* pane = panes_[static_cast<std::size_t>(i)] =
            new GaugePane(titles[i].first, titles[i].second);
        grid->addWidget(pane, i / 3, i % 3);
        connect(pane, &GaugePane::moved, this, &GaugeView::moveTo);
        connect(pane, &GaugePane::hovered, this, &GaugeView::readUnder);
        connect(pane, &GaugePane::sliced, this, &GaugeView::readSlice);
    }
}

void GaugeView::buildBench(QWidget* bench) {
    Panel panel(bench);
    panel.title(tr("Findings, worst first"));
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    findingsBody_ = new QWidget;
    dueTurn_.setSingleShot(true);
    connect(&dueTurn_, &QTimer::timeout, this, &GaugeView::addFindings);
    findings_ = new QVBoxLayout(findingsBody_);
    findings_->setContentsMargins(0, 0, 14, 0);
    findings_->setSpacing(6);
    scroll->setWidget(findingsBody_);
    panel.add(scroll);
    scroll->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Expanding);
    panel.seam();
    panel.title(tr("Under the pointer"));
    auto* reading = new QWidget;
    auto* row = new QHBoxLayout(reading);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(10);
    row->addWidget(lens_ = new GaugeLens, 0, Qt::AlignTop);
    under_ = new QLabel;
    under_->setTextFormat(Qt::RichText);
    under_->setObjectName("gaugeUnder");
    under_->setFont(interfaceFont(12));
    under_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    under_->setWordWrap(true);
    under_->setText(tr("Point at a pixel: its straight colour and alpha stand here."));
    row->addWidget(under_, 1);
    panel.add(reading);
    panel.add(slice_ = new GaugeSlice);
    words_ = panel.text("gaugeHint");
    words_->setText(tr("Hold B to see it before the last mend."));
}

QWidget* GaugeView::buildBar() {
    const auto made = viewBar(12, 14);
    QWidget* bar = made.first;
    QHBoxLayout* row = made.second;
    row->setSpacing(4);
    row->addWidget(softLabel(tr("Photo")));
    photo_ = named(new QComboBox, "gaugeBackdrop");
    photo_->addItems(
        {tr("light footage"), tr("dark footage"), tr("busy footage"), tr("own colour")});
    photo_->setCurrentIndex(2);
    photo_->setAccessibleName(tr("The photo behind the fifth pane"));
    row->addWidget(photo_);
    own_ = named(new ColourField(tr("Own backdrop")), "gaugeOwn");
    own_->show(ownColour_);
    own_->setFixedWidth(120);
    own_->hide();
    row->addWidget(own_);
    connect(own_, &ColourField::committed, this, [this](Colour colour) {
        ownColour_ = {colour.red, colour.green, colour.blue, 255};
        own_->show(ownColour_);
        preparedOf_.reset();
        take(pieceShown_);
    });
    row->addSpacing(10);
    bare_ = named(new QComboBox, "gaugeBareOf");
    bare_->addItems({tr("Alpha alone"), tr("Colour alone")});
    bare_->setAccessibleName(tr("What the sixth pane shows"));
    bare_->setToolTip(tr("Alpha as grey, or the colour that is stored, under alpha 0 too"));
    row->addWidget(bare_);
    row->addSpacing(10);
    const std::tuple<QString, const char*, double> zooms[] = {{tr("fit"), "gaugeFit", 0},
                                                              {tr("100 %"), "gauge100", 1},
                                                              {tr("400 %"), "gauge400", 4},
                                                              {tr("1600 %"), "gauge1600", 16},
                                                              {tr("3200 %"), "gauge3200", 32}};
    for (const auto& [name, objectName, zoom] : zooms) {
        auto* button = named(new QToolButton, objectName);
        button->setText(name);
        button->setAccessibleName(tr("Zoom: %1").arg(name));
        connect(button, &QToolButton::clicked, this, [this, z = zoom] {
            GaugeMapping next = mapping_;
            if (mapping_.zoom <= 0 && frame_)
                next.centre = {frame_->piece->width() / 2.0, frame_->piece->height() / 2.0};
            next.zoom = z;
            moveTo(next);
        });
        row->addWidget(button);
    }
    row->addStretch();
    zoomWords_ = named(softLabel({}), "gaugeZoom");
    row->addWidget(zoomWords_);
    for (QComboBox* box : {photo_, bare_})
        connect(box, &QComboBox::activated, this, [this] {
            own_->setVisible(photo_->currentIndex() == ownIndex);
            preparedOf_.reset();
            take(pieceShown_);
        });
    return bar;
}

void GaugeView::refresh() {
    const Piece* piece = session_.piece();
    const PieceState* state = piece ? desk_.state(piece->id) : nullptr;
    const bool any = state && state->frame;
    empty_->setVisible(!piece);
    panesBody_->setVisible(piece);
    legend_->setVisible(piece);
    if (piece && piece->id != pieceShown_) {
        pieceShown_ = piece->id;
        mapping_ = {};
        before_.reset();
        for (GaugePane* pane : panes_) {
            pane->setSlice({});
            pane->setPointed({});
        }
        slice_->plot({}, {});
    }
    if (!isVisible()) return;
    fillFindings();
    if (any && !showingBefore_) take(piece->id);
}

void GaugeView::take(const std::string& pieceId) {
    const PieceState* state = desk_.state(pieceId);
    if (!state || !state->frame) return;
    if (state->frame == preparedOf_) return;
    preparedOf_ = state->frame;
    prepare(state->frame, state->marks, false);
}

bool GaugeView::isCurrent() const {
    const PieceState* state = desk_.state(pieceShown_);
    return frame_ && state && frame_->piece == state->frame;
}

void GaugeView::prepare(std::shared_ptr<const Straight8> frame, std::vector<EdgeMark> marks,
                        bool before) {
    constexpr Footage kinds[] = {Footage::light, Footage::dark, Footage::busy};
    const bool own = photo_->currentIndex() == ownIndex;
    preparing_.post([this, frame, marks = std::move(marks),
                     kind = kinds[own ? 0 : photo_->currentIndex()], own, ground = ownColour_,
                     colour = bare_->currentIndex() == 1, before](const std::stop_token& stop) {
        auto made = std::make_shared<GaugeFrame>();
        made->piece = frame;
        made->overPhoto = std::make_shared<const Straight8>(overGround(
            frame, own ? Straight8::cleared(frame->size(),
                                            packed(ground.red, ground.green, ground.blue, 255))
                       : footageOf(kind, frame->size())));
        if (stop.stop_requested()) return;
        made->map = std::make_shared<const Straight8>(edgeMapOf(*frame, marks));
        made->alpha = std::make_shared<const Straight8>(bareChannels(*frame, colour));
        made->marks = marks;
        made->before = before;
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(
            this,
            [this, made] {
                if (made->before != showingBefore_)
                    return;  // asked for before B was pressed, or let go
                frame_ = made;
                paintPanes();
            },
            Qt::QueuedConnection);
    });
}

void GaugeView::paintPanes() {
    if (!frame_) return;
    const auto flat = [](std::uint8_t v) { return Backdrop{false, {v, v, v, 255}, {}}; };
    const auto show = [&](Pane pane, const std::shared_ptr<const Straight8>& raster,
                          const Backdrop& backdrop) {
        panes_[static_cast<std::size_t>(pane)]->show(raster, backdrop);
    };
    const QString suffix = frame_->before ? tr(" · before the mend") : QString();
    const QString titles[] = {tr("white"),           tr("black"),
                              tr("edge map"),        tr("mid grey"),
                              photo_->currentText(), bare_->currentText().toLower()};
    for (int i = 0; i < paneCount; ++i)
        panes_[static_cast<std::size_t>(i)]->setTitle(titles[i] + suffix);
    show(onWhite, frame_->piece, flat(255));
    show(onBlack, frame_->piece, flat(0));
    show(onGrey, frame_->piece, flat(128));
    show(onPhoto, frame_->overPhoto, flat(0));
    show(mapPane, frame_->map, flat(0));
    show(barePane, frame_->alpha, flat(0));
    legend_->setText(legendOf(frame_->marks));
    moveTo(mapping_);
}

void GaugeView::moveTo(const GaugeMapping& mapping) {
    mapping_ = mapping;
    for (GaugePane* pane : panes_) pane->setMapping(mapping_);
    zoomWords_->setText(tr("%1 %, linked").arg(qRound(panes_.front()->shownZoom() * 100)));
}

void GaugeView::goTo(const PixelRect& place) {
    if (!frame_) return;
    const double room = std::min(panes_[0]->width(), panes_[0]->height()) * 0.6;
    const double zoom =
        std::clamp(room / std::max({place.width(), place.height(), 1}), 1.0, closeUp);
    for (GaugePane* pane : panes_) pane->setPointed(place);
    moveTo({{(place.left + place.right) / 2.0, (place.top + place.bottom) / 2.0}, zoom});
}

void GaugeView::readUnder(RealPoint at) {
    if (!frame_) return;
    const Straight8& frame = *frame_->piece;
    const Spot spot{static_cast<int>(std::floor(at.x)), static_cast<int>(std::floor(at.y))};
    lens_->look(frame_->piece, spot);
    if (spot.x < 0 || spot.y < 0 || spot.x >= frame.width() || spot.y >= frame.height())
        return under_->setText(tr("outside"));
    const std::uint32_t p = frame.row(spot.y)[spot.x];
    QString words = tr("x %1  y %2<br>R %3 G %4 B %5<br>α %6, %7 %")
                        .arg(spot.x)
                        .arg(spot.y)
                        .arg(redOf(p))
                        .arg(greenOf(p))
                        .arg(blueOf(p))
                        .arg(alphaOf(p))
                        .arg(qRound(alphaOf(p) / 2.55));
    if (const auto clean = cleanInkNear(frame, spot); clean && alphaOf(p) > 0)
        words += tr("<br>clean ink %1<br>ΔE %2")
                     .arg(hexOf(*clean))
                     .arg(inkDifference(p, *clean), 0, 'f', 1);
    under_->setText(words);
}

void GaugeView::readSlice(RealPoint from, RealPoint to) {
    if (!frame_) return;
    for (GaugePane* pane : panes_) pane->setSlice(std::pair(from, to));
    LineAcross line = lineAcross(*frame_->piece, from, to);
    slice_->plot(std::move(line.alpha), std::move(line.difference));
}

// Those that do not pass, by harm; each with its places and its mends.
void GaugeView::fillFindings() {
    if (findingsBody_->isAncestorOf(QApplication::focusWidget())) focusDue_ = true;
    while (QLayoutItem* item = findings_->takeAt(0)) {
        if (item->widget()) {
            item->widget()->hide();
            item->widget()->deleteLater();
        }
        delete item;
    }
    const Piece* piece = session_.piece();
    const PieceState* state = piece ? desk_.state(piece->id) : nullptr;
    std::vector<Reading> readings;
    if (state)
        for (const Reading& r : state->readings)
            if (r.verdict == Verdict::fail || r.verdict == Verdict::watch) readings.push_back(r);
    std::stable_sort(readings.begin(), readings.end(),
                     [](const Reading& a, const Reading& b) { return a.verdict > b.verdict; });
    if (readings.empty()) {
        auto* none = named(
            new QLabel(!state                      ? tr("Measuring …")
                       : !state->refusal.isEmpty() ? state->refusal
                                                   : tr("Nothing to mend: every reading passes.")),
            "gaugeNone");
        none->setWordWrap(true);
        none->setProperty("soft", true);
        findings_->addWidget(none);
        none->show();
    }
    findings_->addStretch();
    due_.assign(readings.rbegin(), readings.rend());
    addFindings();
}

// The worst that are still due; as many as there is room for at once, the others in turns of their
// own.
// A few at a time, so that no turn of the event loop takes long.
void GaugeView::addFindings() {
    constexpr int atOnce = 3;
    for (int i = 0; i < atOnce && !due_.empty(); ++i) {
        const Reading reading = std::move(due_.back());
        due_.pop_back();
        QWidget* card = cardOf(reading);
        findings_->insertWidget(findings_->count() - 1, card);
        card->show();
    }
    if (std::exchange(focusDue_, false)) focusFirstMend();
    if (!due_.empty()) dueTurn_.start();
}

// Whoever mends by keys goes on from here.
void GaugeView::focusFirstMend() {
    const auto buttons = findingsBody_->findChildren<QPushButton*>();
    const auto first = std::find_if(buttons.begin(), buttons.end(),
                                    [](const QPushButton* b) { return b->isVisible(); });
    first != buttons.end() ? (*first)->setFocus() : setFocus();
}

QWidget* GaugeView::cardOf(const Reading& r) {
    auto* card = named(new QWidget, ("gaugeFinding-" + r.id).c_str());
    auto* grid = new QGridLayout(card);
    grid->setContentsMargins(0, 2, 0, 6);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(1, 1);
    auto* shape = new QLabel;
    QPixmap pixmap(24, 24);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    drawVerdict(painter, QRectF(2, 2, 20, 20), r.verdict, false);
    painter.end();
    pixmap.setDevicePixelRatio(2);
    shape->setPixmap(pixmap);
    grid->addWidget(shape, 0, 0, Qt::AlignVCenter);
    auto* title = new QLabel(
        QString::fromStdString(english({"reading." + r.id, {}})) + " · " +
        QString::fromStdString(english({"verdict." + std::string(nameOf(r.verdict)), {}})));
    title->setFont(interfaceFont(13, 600));
    grid->addWidget(title, 0, 1);
    auto* says =
        named(new QLabel(QString::fromStdString(english(r.says))), ("gaugeSays-" + r.id).c_str());
    says->setWordWrap(true);
    says->setProperty("soft", true);
    grid->addWidget(says, 1, 1, 1, 2);
    if (QToolButton* show = showButton(r)) grid->addWidget(show, 0, 2, Qt::AlignRight);
    if (QWidget* mends = mendButtons(r)) grid->addWidget(mends, 2, 1, 1, 2);
    return card;
}

// Nothing when the reading has no places.
QToolButton* GaugeView::showButton(const Reading& r) {
    std::vector<Finding> places;
    for (const Finding& f : r.findings)
        if (f.rect) places.push_back(f);
    if (places.empty()) return nullptr;
    auto* show = iconButton(
        "place", ("gaugeShow-" + r.id).c_str(),
        places.size() == 1 ? tr("Show where")
                           : tr("Show where: %1 places, one after the other").arg(places.size()));
    if (places.size() > 1) {
        show->setText(QString::number(places.size()));
        show->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    }
    connect(show, &QToolButton::clicked, this,
            [this, places, at = std::make_shared<std::size_t>(0)] {
                goTo(*places[*at % places.size()].rect);
                ++*at;
            });
    return show;
}

// Nothing when there is no mend.
QWidget* GaugeView::mendButtons(const Reading& r) {
    const Piece* piece = session_.piece();
    const Brief* brief = session_.brief();
    if (!brief || !piece || r.mends.empty()) return nullptr;
    auto* buttons = new QWidget;
    auto* row = new QVBoxLayout(buttons);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    for (const std::string& mend : r.mends) {
        auto* button =
            named(new QPushButton(
                      literally(QString::fromStdString(mendTitle(mend, *brief, piece->frame, &r)))),
                  ("gaugeMend-" + mend).c_str());
        connect(button, &QPushButton::clicked, this,
                [this, mend] { Q_EMIT mendAsked(QString::fromStdString(mend)); });
        row->addWidget(button, 0, Qt::AlignLeft);
    }
    return buttons;
}

void GaugeView::showBefore(bool on) {
    if (on == showingBefore_ || (on && !before_)) return;
    showingBefore_ = on;
    if (!on) {
        preparedOf_.reset();
        return take(pieceShown_);
    }
    beforeJob_.post([this, kit = *before_, id = pieceShown_,
                     inks = session_.inks()](const std::stop_token& stop) {
        const Piece* piece = kit.piece(id);
        if (!piece) return;
        auto frame = releaseFrame({*piece, kit}, *inks, stop);
        if (!frame) return;
        auto shared = std::make_shared<const Straight8>(std::move(*frame));
        QMetaObject::invokeMethod(
            this,
            [this, shared] {
                if (showingBefore_) prepare(shared, {}, true);
            },
            Qt::QueuedConnection);
    });
}

void GaugeView::keyPressEvent(QKeyEvent* event) {
    const auto zoomed = [this](double factor) {
        const double now = panes_.front()->shownZoom();
        GaugeMapping next = mapping_;
        if (mapping_.zoom <= 0 && frame_)
            next.centre = {frame_->piece->width() / 2.0, frame_->piece->height() / 2.0};
        next.zoom = std::clamp(now * factor, 0.02, 32.0);
        moveTo(next);
    };
    const auto panned = [this](double dx, double dy) {
        const double zoom = panes_.front()->shownZoom();
        GaugeMapping next = mapping_;
        if (mapping_.zoom <= 0) return;
        next.centre.x += 40 * dx / zoom;
        next.centre.y += 40 * dy / zoom;
        moveTo(next);
    };
    switch (event->key()) {
        case Qt::Key_B:
            if (!event->isAutoRepeat()) showBefore(true);
            return;
        case Qt::Key_Plus:
        case Qt::Key_Equal:
            return zoomed(2);
        case Qt::Key_Minus:
            return zoomed(0.5);
        case Qt::Key_0:
            return moveTo({});
        case Qt::Key_Left:
            return panned(-1, 0);
        case Qt::Key_Right:
            return panned(1, 0);
        case Qt::Key_Up:
            return panned(0, -1);
        case Qt::Key_Down:
            return panned(0, 1);
        default:
            QWidget::keyPressEvent(event);
    }
}

void GaugeView::keyReleaseEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_B && !event->isAutoRepeat()) return showBefore(false);
    QWidget::keyReleaseEvent(event);
}

void GaugeView::resizeEvent(QResizeEvent*) {
    zoomWords_->setText(tr("%1 %, linked").arg(qRound(panes_.front()->shownZoom() * 100)));
}

}  // namespace zl::app
