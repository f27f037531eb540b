// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/sections/subject_card.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "look/theme.h"
#include "words/words.h"

namespace zl::app {

SubjectCard::SubjectCard(Session& session, std::size_t index, Change change)
    : session_(session), index_(index), change_(std::move(change)) {
    Form form(this);
    buildGuesses(form);
    buildStrokes(form);
    buildUnsure(form);
    buildOutcome(form);
    buildGround(form);
    connect(&session_.subject(), &SubjectDesk::changed, this, &SubjectCard::tell);
}

void SubjectCard::change(const QString& what, const std::function<void(SubjectCut&)>& change) {
    if (filling_) return;
    change_(what, [&change](Cut& cut) {
        if (SubjectCut* its = cut.subject()) change(*its);
    });
}

const SubjectState* SubjectCard::state() const {
    const SubjectState* state = session_.subject().state();
    return state && session_.layer() && state->layer == session_.layer()->id && state->cut == index_
               ? state
               : nullptr;
}

void SubjectCard::buildGuesses(Form& form) {
    trust_ = named(softLabel({}), "subjectTrust");
    trust_->setWordWrap(true);
    form.wide(trust_);
    guessRow_ = new QWidget;
    auto* row = new QHBoxLayout(guessRow_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    for (int k = 0; k < mostGuesses; ++k) {
        auto* guess =
            named(new QToolButton, QString("subjectGuess-%1").arg(k).toUtf8().constData());
        guess->setCheckable(true);
        guess->setIconSize({70, 52});
        guess->setFixedSize(78, 60);
        guess->setAccessibleName(tr("Guess %1").arg(k + 1));
        guess->setToolTip(tr("Guess %1").arg(k + 1));
        connect(guess, &QToolButton::clicked, this, [this, k] {
            change(tr("Take a guess"), [k](SubjectCut& cut) {
                cut.guess = k;
                cut.box.reset();
            });
            fill(shown_);
        });
        guesses_.push_back(guess);
        row->addWidget(guess);
    }
    row->addStretch();
    form.wide(guessRow_);
    auto* box = named(new QPushButton(tr("Draw a box")), "subjectBox");
    box->setToolTip(tr("A box round the subject, on the canvas"));
    connect(box, &QPushButton::clicked, this, &SubjectCard::boxAsked);
    again_ = named(new QPushButton(tr("Guess again")), "subjectAgain");
    again_->setToolTip(tr("Without the box: the program looks for the subject itself"));
    connect(again_, &QPushButton::clicked, this,
            [this] { change(tr("Guess again"), [](SubjectCut& cut) { cut.box.reset(); }); });
    key_ = named(new QPushButton(tr("Use a colour key")), "subjectKey");
    key_->setToolTip(tr("The ground is flat: a colour key takes it off exactly"));
    connect(key_, &QPushButton::clicked, this,
            [this] { change_(tr("Use a colour key"), [](Cut& cut) { cut.what = KeyCut{}; }); });
    form.wide(sideBySide({box, again_, key_}));
}

void SubjectCard::buildStrokes(Form& form) {
    const auto brush = [this](const char* id, const QString& words, const QString& tip,
                              bool restores) {
        auto* button = named(new QPushButton(words), id);
        button->setToolTip(tip);
        connect(button, &QPushButton::clicked, this,
                [this, restores] { Q_EMIT brushAsked(restores, width_ / 2); });
        return button;
    };
    brush_ = named(new NumberField(tr("Brush"), tr("px")), "subjectBrush");
    brush_->setRange(1, 2000, 0);
    brush_->setFixedWidth(58);
    brush_->setMinimumWidth(58);
    brush_->show(width_);
    connect(brush_, &NumberField::committed, this, [this](double v) {
        width_ = v;
        brush_->show(v);
    });
    form.row(tr("Strokes"),
             brush("subjectKeep", tr("Keep"), tr("Paint over what belongs to the subject"), true),
             brush("subjectDrop", tr("Drop"), tr("Paint over what does not belong to it"), false));
    form.row(tr("Brush"), sideBySide({brush_, softLabel(tr("wide"))}));
    strokes_ = named(new QComboBox, "subjectStrokes");
    strokes_->setAccessibleName(tr("Strokes that were drawn"));
    auto* out = named(new QPushButton(tr("Take out")), "subjectStrokeOut");
    out->setToolTip(tr("Takes this stroke out; the others stay"));
    connect(out, &QPushButton::clicked, this, [this] {
        const auto at = static_cast<std::size_t>(std::max(0, strokes_->currentIndex()));
        change(tr("Take a stroke out"), [at](SubjectCut& cut) {
            if (at < cut.strokes.size())
                cut.strokes.erase(cut.strokes.begin() + static_cast<std::ptrdiff_t>(at));
        });
    });
    strokeRow_ = sideBySide({strokes_, out});
    form.wide(strokeRow_);
}

void SubjectCard::buildUnsure(Form& form) {
    unsure_ = named(softLabel({}), "subjectUnsure");
    unsure_->setWordWrap(true);
    next_ = named(new QPushButton(tr("Next unsure place")), "subjectNext");
    next_->setToolTip(tr("Goes from one place to the next; N while a brush is in the hand"));
    connect(next_, &QPushButton::clicked, this, [this] { session_.subject().visitNext(); });
    form.wide(unsure_);
    form.wide(next_);
    says_ = named(softLabel({}), "subjectSays");
    says_->setWordWrap(true);
    form.wide(says_);
}

void SubjectCard::buildOutcome(Form& form) {
    const auto box = [&](const char* id, const QString& name) {
        auto* made = named(new QComboBox, id);
        made->setAccessibleName(name);
        return made;
    };
    look_ = box("subjectLook", tr("What the canvas shows"));
    offer<SubjectLook>(look_, {{tr("Cut-out"), SubjectLook::cutOut},
                               {tr("Matte"), SubjectLook::matte},
                               {tr("Original, dimmed"), SubjectLook::original}});
    connect(look_, &QComboBox::activated, this,
            [this] { session_.subject().setLook(chosenIn<SubjectLook>(look_)); });
    form.row(tr("Seen as"), look_);
    edge_ = box("subjectEdge", tr("How the edge is taken"));
    offer<SubjectEdge>(edge_, {{tr("As found"), SubjectEdge::asFound},
                               {tr("Tighter"), SubjectEdge::tighter},
                               {tr("Fuller"), SubjectEdge::fuller}});
    connect(edge_, &QComboBox::activated, this, [this] {
        change(tr("Edge"), [v = chosenIn<SubjectEdge>(edge_)](SubjectCut& cut) { cut.edge = v; });
    });
    form.row(tr("Edge"), edge_);
    part_ = box("subjectPart", tr("What stays"));
    offer<SubjectPart>(part_, {{tr("The subject"), SubjectPart::subject},
                               {tr("The ground"), SubjectPart::ground},
                               {tr("The ground, filled in"), SubjectPart::filled}});
    connect(part_, &QComboBox::activated, this, [this] {
        change(tr("What stays"), [v = chosenIn<SubjectPart>(part_)](SubjectCut& c) { c.part = v; });
    });
    form.row(tr("Stays"), part_);
    shadow_ = box("subjectShadow", tr("What becomes of the shadow it throws"));
    shadow_->addItems({tr("Goes"), tr("Stays, see-through")});
    connect(shadow_, &QComboBox::activated, this, [this](int at) {
        change(tr("Shadow"), [at](SubjectCut& cut) { cut.keepsShadow = at == 1; });
    });
    form.row(tr("Shadow"), shadow_);
}

void SubjectCard::buildGround(Form& form) {
    QToolButton* more = menuButton(tr("Use the ground, too  ▾"), "subjectGround");
    auto* menu = new QMenu(more);
    const auto offer = [&](const char* id, const QString& words, GroundUse use) {
        QAction* action = menu->addAction(words);
        action->setObjectName(id);
        connect(action, &QAction::triggered, this, [this, use] { useGround(use); });
    };
    offer("groundBlur", tr("Blur it"), GroundUse::blur);
    offer("groundDarken", tr("Darken it"), GroundUse::darken);
    offer("groundDrain", tr("Take its colour away"), GroundUse::drain);
    offer("groundLetters", tr("Lettering between ground and subject"), GroundUse::letters);
    more->setMenu(menu);
    form.wide(more);
}

void SubjectCard::useGround(GroundUse use) {
    if (!session_.piece() || !session_.layer()) return;
    const auto word = [](const QString& words) { return words.toStdString(); };
    const GroundWords words{word(tr("ground")), word(tr("subject")), word(tr("Title")),
                            word(tr("Title"))};
    session_.apply(withGroundUsed(session_.kit(), session_.piece()->id, session_.layer()->id, use,
                                  words, session_.brief()),
                   tr("Use the ground"));
}

void SubjectCard::fill(const SubjectCut& cut) {
    filling_ = true;
    shown_ = cut;
    guessRow_->setVisible(!cut.box);
    again_->setVisible(cut.box.has_value());
    for (std::size_t k = 0; k < guesses_.size(); ++k)
        guesses_[k]->setChecked(static_cast<std::size_t>(cut.guess) == k);
    strokeRow_->setVisible(!cut.strokes.empty());
    strokes_->clear();
    for (std::size_t i = 0; i < cut.strokes.size(); ++i)
        strokes_->addItem(
            tr("%1 · %2").arg(i + 1).arg(cut.strokes[i].restores ? tr("keep") : tr("drop")));
    strokes_->setCurrentIndex(strokes_->count() - 1);
    choose(edge_, cut.edge);
    choose(part_, cut.part);
    shadow_->setCurrentIndex(cut.keepsShadow ? 1 : 0);
    filling_ = false;
    tell();
}

void SubjectCard::tell() {
    const SubjectState* now = state();
    choose(look_, session_.subject().look());
    key_->setVisible(now && now->start->flatGround);
    if (now && !sized_) {
        // A sixtieth of the picture's longer side is easy to hit.
        sized_ = true;
        width_ = std::max(
            2.0, std::round(std::max(now->start->size.width, now->start->size.height) / 50.0));
        brush_->show(width_);
    }
    for (std::size_t k = 0; k < guesses_.size(); ++k) {
        const bool there = now && k < now->guesses.size();
        guesses_[k]->setVisible(there || !now || now->guesses.empty());
        guesses_[k]->setEnabled(there);
        guesses_[k]->setIcon(there ? QIcon(QPixmap::fromImage(now->guesses[k])) : QIcon());
    }
    const bool report = now && now->report;
    if (shown_.box || !shown_.strokes.empty() || shown_.guess > 0)
        trust_->setText({});
    else if (!report)
        trust_->setText(tr("Looking for the subject…"));
    else
        trust_->setText(now->report->trusted()
                            ? tr("Trusted by %1 %: the first guess is likely right.")
                                  .arg(std::lround(100 * now->report->trust))
                            : tr("Not sure: pick a guess, draw a box, or a stroke."));
    trust_->setVisible(!trust_->text().isEmpty());
    const int places = report ? static_cast<int>(now->report->places.size()) : 0;
    unsure_->setText(!report       ? QString()
                     : places == 0 ? tr("No place is unsure beyond the edge itself.")
                     : places == 1 ? tr("One place is unsure.")
                                   : tr("%1 places are unsure.").arg(places));
    unsure_->setVisible(report);
    next_->setVisible(places > 0);
    QString says;
    if (report)
        for (const Message& say : now->report->says)
            if (say.id != "subject.guess")
                says += (says.isEmpty() ? "" : "\n") + QString::fromStdString(english(say));
    says_->setText(says);
    says_->setVisible(!says.isEmpty());
}

}  // namespace zl::app
