// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/clock_row.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>

#include "widgets/form.h"
#include "widgets/moment_field.h"
#include "widgets/panel.h"

namespace zl::app {
namespace {

QPushButton* smallButton(QHBoxLayout* row, const QString& words, const char* id,
                         const QString& tip) {
    auto* button = named(new QPushButton(words), id);
    button->setFixedHeight(24);
    button->setToolTip(tip);
    row->addWidget(button);
    return button;
}

// The bar, filling its widget.
QHBoxLayout* barOf(QWidget* whole) {
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    const auto [bar, row] = viewBar(14, 14);
    row->setSpacing(6);
    column->addWidget(bar);
    return row;
}

// "12.5", "1:02.5", "1:00:02.5".
}  // namespace

ClockRow::ClockRow(QWidget* parent) : QWidget(parent) {
    QHBoxLayout* row = barOf(this);
    const auto step = [&](const QString& words, const char* id, const QString& tip, auto moved) {
        QToolButton* button = wordButton(words, id, tip);
        row->addWidget(button);
        connect(button, &QToolButton::clicked, this, moved);
    };
    step(tr("Cut −"), "filmCutBack", tr("To the cut before (Up)"), [this] { Q_EMIT cutOn(false); });
    step(tr("−1 s"), "filmSecondBack", tr("A second back (Shift+Left)"),
         [this] { Q_EMIT secondsOn(-1); });
    step(tr("−1"), "filmFrameBack", tr("A frame back (Left)"), [this] { Q_EMIT framesOn(-1); });
    step(tr("Play"), "filmPlay",
         tr("Plays with sound (Space). J, K and L play back, pause and play; pressed again, "
            "faster"),
         [this] { Q_EMIT playPressed(); });
    play_ = findChild<QToolButton*>("filmPlay");
    play_->setMinimumWidth(56);
    step(tr("+1"), "filmFrameOn", tr("A frame on (Right)"), [this] { Q_EMIT framesOn(1); });
    step(tr("+1 s"), "filmSecondOn", tr("A second on (Shift+Right)"),
         [this] { Q_EMIT secondsOn(1); });
    step(tr("Cut +"), "filmCutOn", tr("To the next cut (Down)"), [this] { Q_EMIT cutOn(true); });
    row->addSpacing(8);
    clock_ = new MomentField("filmClock", tr("The moment: a time, or # and a frame's number"), 92);
    row->addWidget(clock_);
    count_ = named(softLabel({}), "filmCount");
    row->addWidget(count_);
    row->addStretch();
    which_ = named(softLabel({}), "filmWhich");
    row->addWidget(which_);
    connect(clock_, &QLineEdit::returnPressed, this, &ClockRow::takeTyped);
}

void ClockRow::showMoment(double seconds, long long number) {
    clock_->showMoment(seconds);
    constexpr long long many = 100'000;  // of more the words would not fit beside the buttons
    count_->setText((facts_.frames < many ? tr("frame %1 of %2") : tr("#%1 of %2"))
                        .arg(number)
                        .arg(facts_.frames));
}

void ClockRow::say(const QString& words) {
    which_->setText(words);
}

void ClockRow::showPlaying(bool playing) {
    play_->setText(playing ? tr("Pause") : tr("Play"));
}

void ClockRow::takeTyped() {
    const QString typed = clock_->taken();
    if (typed.startsWith('#')) {
        bool good = false;
        const long long number = typed.mid(1).toLongLong(&good);
        if (good && number >= 0 && number < facts_.frames) {
            Q_EMIT left();
            return frameTyped(number);
        }
    } else if (const auto seconds = secondsTyped(typed); seconds && *seconds <= facts_.duration) {
        Q_EMIT left();
        return momentTyped(*seconds);
    }
    Q_EMIT refused(tr("“%1” is no moment of this video, which ends at %2 with frame #%3.")
                       .arg(typed, momentWords(facts_.duration))
                       .arg(facts_.frames - 1));
}

PartRow::PartRow(QWidget* parent) : QWidget(parent) {
    QHBoxLayout* row = barOf(this);
    looking_ = named(softLabel({}), "filmLooking");
    row->addWidget(looking_);
    stop_ = smallButton(row, tr("Stop looking"), "filmStopLooking",
                        tr("Leaves the rest of the video unseen; what is proposed stays"));
    row->addStretch();
    part_ = named(softLabel({}), "filmPart");
    row->addWidget(part_);
    connect(smallButton(row, tr("In here"), "filmIn", tr("The part begins here (I)")),
            &QPushButton::clicked, this, &PartRow::inAsked);
    connect(smallButton(row, tr("Out here"), "filmOut", tr("The part ends here (O)")),
            &QPushButton::clicked, this, &PartRow::outAsked);
    all_ = smallButton(row, tr("All of it"), "filmAll", tr("The whole video counts again"));
    connect(all_, &QPushButton::clicked, this, &PartRow::allAsked);
    connect(stop_, &QPushButton::clicked, this, &PartRow::stopAsked);
}

void PartRow::showPart(const Span& part, double length) {
    const bool whole = part == Span{0, length};
    part_->setText(
        whole ? tr("Proposed from the whole video")
              : tr("Proposed from %1 to %2").arg(momentWords(part.from), momentWords(part.to)));
    all_->setEnabled(!whole);
}

void PartRow::showLooking(double part) {
    const bool done = part >= 1;
    looking_->setText(done ? tr("Proposals")
                           : tr("Looking for good frames … %1 %").arg(qRound(100 * part)));
    stop_->setVisible(!done);
}

}  // namespace zl::app
