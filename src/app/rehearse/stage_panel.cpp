// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearse/stage_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QSlider>

#include "widgets/form.h"
#include "widgets/panel.h"

namespace zl::app {
namespace {

constexpr int tickMs = 80, slowTickMs = 40;
constexpr double steps = 1000;  // of the scrub's slider

}  // namespace

StagePanel::StagePanel(Panel& panel, QObject* parent) : QObject(parent), tick_(new QTimer(this)) {
    whole_ = new QWidget;
    auto* column = new QVBoxLayout(whole_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    auto* title = new QLabel(tr("On the stage"));
    title->setFont(interfaceFont(12, 600));
    title->setFixedHeight(28);
    column->addWidget(title);
    buildMarkRows(column);
    buildTransport(column);
    hides_ = named(new QCheckBox(tr("What does it hide?")), "whatItHides");
    hides_->setToolTip(tr("Shows what lies under the overlay, hatched"));
    column->addWidget(hides_);
    refusal_ = refusalLine();
    column->addWidget(refusal_);
    panel.add(whole_);
    buildHost(panel);
    listen();
}

void StagePanel::buildMarkRows(QVBoxLayout* column) {
    markRows_ = new QWidget;
    Form form(markRows_);
    markRows_->layout()->setContentsMargins(0, 0, 0, 0);
    when_ = named(new QComboBox, "showingWhen");
    offer<Showing::When>(when_, {{tr("throughout"), Showing::When::throughout},
                                 {tr("from a second on"), Showing::When::from},
                                 {tr("closing 15 s"), Showing::When::closing}});
    when_->setAccessibleName(tr("Showing time"));
    form.row(tr("Shows"), when_);
    from_ = named(new QLineEdit("0:30"), "showingFrom");
    from_->setAccessibleName(tr("The mark shows from"));
    lengthField_ = named(new QLineEdit("14:05"), "videoLength");
    lengthField_->setAccessibleName(tr("Length of the video"));
    form.row(tr("From, of"), from_, lengthField_);
    column->addWidget(markRows_);
}

void StagePanel::buildTransport(QVBoxLayout* column) {
    play_ = named(new QPushButton(tr("Play")), "playStage");
    play_->setCheckable(true);
    clockWords_ = named(new QLabel, "stageClock");
    clockWords_->setProperty("soft", true);
    scrub_ = named(new QSlider(Qt::Horizontal), "stageScrub");
    scrub_->setRange(0, static_cast<int>(steps));
    scrub_->setAccessibleName(tr("The player's clock"));
    auto* transport = new QWidget;
    auto* line = new QHBoxLayout(transport);
    line->setContentsMargins(0, 0, 0, 0);
    line->addWidget(play_);
    line->addWidget(scrub_, 1);
    column->addWidget(transport);
    column->addWidget(clockWords_);
}

void StagePanel::buildHost(Panel& panel) {
    auto* hostTitle = new QLabel(tr("The host today"));
    hostTitle->setFont(interfaceFont(12, 600));
    hostTitle->setFixedHeight(28);
    panel.add(hostTitle);
    trouble_ = new QComboBox;
    offer<Trouble::What>(trouble_, {{tr("behaves"), Trouble::What::none},
                                    {tr("refuses the format"), Trouble::What::refusesFormat},
                                    {tr("refuses the frame"), Trouble::What::refusesFrame},
                                    {tr("refuses the weight"), Trouble::What::refusesWeight},
                                    {tr("cuts the upload off"), Trouble::What::cutsOff},
                                    {tr("is slow"), Trouble::What::slow},
                                    {tr("recompresses coarsely"), Trouble::What::coarse},
                                    {tr("loses the draft"), Trouble::What::losesDraft}});
    panel.row(tr("It"), trouble_, "hostTrouble");
    amount_ = named(new NumberField(tr("How much"), ""), "hostTroubleAmount");
    amount_->setRange(1, 1e9, 1);
    amount_->show(100'000);
    amountRow_ = panel.whole(tr("After"), amount_);
}

void StagePanel::listen() {
    connect(when_, &QComboBox::activated, this, &StagePanel::setShowing);
    connect(from_, &QLineEdit::editingFinished, this, &StagePanel::setShowing);
    connect(lengthField_, &QLineEdit::editingFinished, this, &StagePanel::setShowing);
    connect(play_, &QPushButton::toggled, this, &StagePanel::play);
    connect(scrub_, &QSlider::sliderMoved, this,
            [this](int at) { setClock(at / steps * length_); });
    connect(scrub_, &QSlider::actionTriggered, this,
            [this] { setClock(scrub_->sliderPosition() / steps * length_); });
    connect(hides_, &QCheckBox::toggled, this, &StagePanel::changed);
    connect(trouble_, &QComboBox::activated, this, &StagePanel::refresh);
    connect(amount_, &NumberField::committed, amount_, &NumberField::show);
    connect(tick_, &QTimer::timeout, this, &StagePanel::advance);
    tick_->setInterval(tickMs);
    refresh();
}

void StagePanel::setBrief(const Brief* brief) {
    const auto any = [&](SurfaceKind kind) {
        return brief && std::any_of(brief->surfaces.begin(), brief->surfaces.end(),
                                    [&](const SurfaceSpec& s) { return s.kind == kind; });
    };
    const bool player = any(SurfaceKind::player), programme = any(SurfaceKind::programme);
    whole_->setVisible(player || programme);
    markRows_->setVisible(player);
    hides_->setVisible(programme && brief->alpha == AlphaDemand::seeThrough);
    tick_->setInterval(programme ? slowTickMs : tickMs);
    if (!player && !programme) play(false);
    refresh();
}

void StagePanel::setVideo(const std::optional<PieceVideo>& video) {
    if (video == video_) return;
    video_ = video;
    const double length = video && video->length > 0 ? video->length : usualLength;
    // Less than a second of a video has no length in words.
    lengthField_->setText(QString::fromStdString(clockWords(std::max(1.0, length))));
    setShowing();
}

void StagePanel::fill(Posted& posted) const {
    posted.length = length_;
    posted.showing = showing_;
    posted.at = at_;
    posted.hides = hides_->isChecked() && !hides_->isHidden();
}

Trouble StagePanel::trouble() const {
    Trouble trouble{chosenIn<Trouble::What>(trouble_), 0};
    if (!amountRow_->isHidden()) trouble.amount = amount_->text().toDouble();
    return trouble;
}

// What was typed counts only when all of it fits together; else it stays, with the reason.
void StagePanel::setShowing() {
    const auto length = parseClock(lengthField_->text().trimmed().toStdString());
    const auto from = parseClock(from_->text().trimmed().toStdString());
    const auto when = chosenIn<Showing::When>(when_);
    Showing next{when, from ? *from : 0};
    Result<void> good{};
    if (!length)
        good = passOn(length.error());
    else if (when == Showing::When::from && !from && from_->text().trimmed() != "0" &&
             from_->text().trimmed() != "0:00")
        good = passOn(from.error());
    else
        good = checkShowing(next, *length);
    refusal_->setVisible(!good);
    if (!good) {
        refusal_->setText(QString::fromStdString(good.error().sentence()));
        return refresh();
    }
    const bool another = !(next == showing_) || *length != length_;
    showing_ = next;
    length_ = *length;
    if (!another) return refresh();
    // Two seconds before the mark appears, so that it is seen to appear.
    setClock(when == Showing::When::throughout ? std::min(12.0, length_ / 2)
                                               : std::max(0.0, startOf(showing_, length_) - 2));
}

void StagePanel::setClock(double seconds) {
    at_ = std::clamp(seconds, 0.0, length_);
    refresh();
    Q_EMIT changed();
}

void StagePanel::play(bool on) {
    if (on == tick_->isActive()) return;
    if (on) {
        since_.start();
        tick_->start();
    } else {
        tick_->stop();
    }
    refresh();
}

void StagePanel::advance() {
    const double next = at_ + static_cast<double>(since_.restart()) / 1000;
    setClock(next >= length_ ? 0 : next);
}

void StagePanel::refresh() {
    const QSignalBlocker quiet(play_);
    play_->setChecked(playing());
    play_->setText(playing() ? tr("Pause") : tr("Play"));
    const bool fromSecond = chosenIn<Showing::When>(when_) == Showing::When::from;
    from_->setEnabled(fromSecond);
    from_->setToolTip(fromSecond ? tr("Minutes and seconds")
                                 : tr("Choose “from a second on” first"));
    clockWords_->setText(
        markRows_->isHidden()
            ? tr("%1 s").arg(at_, 0, 'f', 1)
            : tr("%1 of %2 · the mark is %3")
                  .arg(QString::fromStdString(clockWords(at_)),
                       QString::fromStdString(clockWords(length_)),
                       isShown(showing_, at_, length_) ? tr("there") : tr("not there yet")));
    if (!scrub_->isSliderDown()) scrub_->setValue(static_cast<int>(at_ / length_ * steps));
    const auto what = chosenIn<Trouble::What>(trouble_);
    const bool bytes = what == Trouble::What::cutsOff, slow = what == Trouble::What::slow;
    amountRow_->setVisible(bytes || slow);
    amount_->setAccessibleName(bytes ? tr("Bytes after which the upload is cut off")
                                     : tr("Seconds that it takes"));
    if (slow && amount_->text().toDouble() > 600) amount_->show(5);
    if (bytes && amount_->text().toDouble() < 600) amount_->show(100'000);
    static_cast<QLabel*>(amountRow_->layout()->itemAt(0)->widget())
        ->setText(bytes ? tr("After, bytes") : tr("Seconds"));
}

}  // namespace zl::app
