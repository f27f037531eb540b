// SPDX-License-Identifier: GPL-3.0-or-later
#include <QCheckBox>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QMenu>
#include <QToolButton>
#include <QVBoxLayout>

#include "edit/edits.h"
#include "look/theme.h"
#include "make/sections/sections.h"
#include "words/words.h"

namespace zl::app {
namespace {

QString phrase(const std::string& id) {
    return QString::fromStdString(english({id, {}}));
}
QString phraseOf(std::string_view group, std::string_view id) {
    return phrase(std::string(group) + "." + std::string(id));
}

}  // namespace

FinishSection::FinishSection(Session& session) : Section(session, tr("Finish")) {
    Form form(body());
    list_ = new QWidget;
    auto* column = new QVBoxLayout(list_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(8);
    form.wide(list_);
    refusal_ = refusalLine();
    form.wide(refusal_);
    QToolButton* add = menuButton(tr("+ Finish  ▾"), "addFinish");
    auto* kinds = new QMenu(add);
    for (const FinishKind& kind : allFinishKinds()) {
        QAction* action = kinds->addAction(phraseOf("finish", kind.id));
        action->setObjectName("add-" +
                              QString::fromUtf8(kind.id.data(), static_cast<int>(kind.id.size())));
        connect(action, &QAction::triggered, this, [this, id = std::string(kind.id)] {
            editAll(tr("Add %1").arg(phrase("finish." + id).toLower()), {},
                    [&](Layer& layer) { layer.finishes.push_back(makeFinish(id)); });
        });
    }
    add->setMenu(kinds);
    QToolButton* looks =
        menuButton(tr("Looks  ▾"), "looks",
                   tr("Letters and finishes that were saved, to be worn by this layer"));
    auto* menu = new QMenu(looks);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] { fillLooks(menu); });
    fillLooks(menu);
    looks->setMenu(menu);
    form.wide(sideBySide({add, looks}));
}

void FinishSection::editFinish(std::size_t index, const QString& what, const QString& mergeKey,
                               const std::function<void(Finish&)>& change) {
    if (!session_.layer() || index >= session_.layer()->finishes.size()) return;
    const std::string kind = session_.layer()->finishes[index].kind;
    // The other chosen layers follow where they have the same finish at the same place.
    editAll(what, mergeKey.isEmpty() ? mergeKey : QString("%1 %2").arg(mergeKey).arg(index),
            [&](Layer& layer) {
                if (index < layer.finishes.size() && layer.finishes[index].kind == kind)
                    change(layer.finishes[index]);
            });
}

void FinishSection::move(std::size_t index, int by) {
    edit(by < 0 ? tr("Put on earlier") : tr("Put on later"), {}, [&](Layer& layer) {
        const auto to = static_cast<std::ptrdiff_t>(index) + by;
        if (to >= 0 && to < static_cast<std::ptrdiff_t>(layer.finishes.size()))
            std::swap(layer.finishes[index], layer.finishes[static_cast<std::size_t>(to)]);
    });
}

// One card a finish, in the order in which they are put on. Built anew only when there are others.
void FinishSection::build(const std::vector<Finish>& finishes) {
    bool same = cards_.size() == finishes.size();
    for (std::size_t i = 0; same && i < cards_.size(); ++i)
        same = cards_[i].kind == finishes[i].kind;
    if (same) return;
    for (QWidget* old : list_->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly)) {
        old->hide();
        old->setParent(nullptr);
        old->deleteLater();
    }
    cards_.clear();
    for (std::size_t i = 0; i < finishes.size(); ++i) addCard(i, finishes);
}

// The name of a control of one finish, for those who look for it.
namespace {

QByteArray nameOf(std::size_t i, const char* field) {
    return QString("finish-%1-%2").arg(i).arg(field).toUtf8();
}

}  // namespace

void FinishSection::addCard(std::size_t i, const std::vector<Finish>& finishes) {
    const FinishKind& kind = *finishKind(finishes[i].kind);
    auto* card = new QWidget;
    auto* grid = new QGridLayout(card);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(6);
    grid->setColumnMinimumWidth(0, 60);
    grid->setColumnStretch(1, 1);
    grid->setColumnStretch(2, 1);
    Card made{std::string(kind.id),
              named(new QCheckBox(phraseOf("finish", kind.id)), nameOf(i, "on").constData()),
              {},
              {},
              nullptr};
    made.on->setToolTip(tr("Drawn, or kept for later"));
    connect(made.on, &QCheckBox::clicked, this, [this, i](bool on) {
        editFinish(i, on ? tr("Draw a finish") : tr("Leave a finish out"), {},
                   [on](Finish& f) { f.off = !on; });
    });
    grid->addWidget(headOf(made, i, finishes.size()), 0, 0, 1, 3);
    int line = 1;
    for (std::size_t k = 0; k < kind.fields.size(); ++k) {
        const FinishField& field = kind.fields[k];
        const QString title = phraseOf("finish", field.id);
        auto* caption = softLabel(title);
        const std::string id(field.id);
        QWidget* widget = fieldOf(made, kind, field, i);
        caption->setBuddy(widget);
        grid->addWidget(caption, line, 0);
        // Two that belong together share a row.
        const bool paired = id == "dx" && k + 1 < kind.fields.size();
        grid->addWidget(widget, line, id == "dy" ? 2 : 1, 1, paired || id == "dy" ? 1 : 2);
        if (id == "dy") caption->hide();
        if (paired) caption->setText(tr("Offset"));
        if (!paired) ++line;
    }
    made.colour =
        named(new ColourField(tr("Colour of the %1").arg(phraseOf("finish", kind.id).toLower())),
              nameOf(i, "colour").constData());
    made.colour->text()->setObjectName(nameOf(i, "colourText"));
    made.colour->setProperty("takesAlpha", true);
    hear(made.colour, refusal_);
    connect(made.colour, &ColourField::committed, this, [this, i](Colour c) {
        editFinish(i, tr("Colour"), {}, [c](Finish& f) { f.colour = c; });
    });
    auto* caption = softLabel(tr("Colour"));
    grid->addWidget(caption, line, 0);
    grid->addWidget(made.colour, line, 1, 1, 2);
    list_->layout()->addWidget(card);
    card->show();
    cards_.push_back(std::move(made));
}

QWidget* FinishSection::headOf(const Card& made, std::size_t i, std::size_t count) {
    auto* earlier = iconButton("raise", nameOf(i, "earlier").constData(), tr("Put on earlier"));
    auto* later = iconButton("lower", nameOf(i, "later").constData(), tr("Put on later"));
    auto* remove = iconButton("remove", nameOf(i, "remove").constData(), tr("Take it off"));
    earlier->setEnabled(i > 0);
    later->setEnabled(i + 1 < count);
    connect(earlier, &QToolButton::clicked, this, [this, i] { move(i, -1); });
    connect(later, &QToolButton::clicked, this, [this, i] { move(i, 1); });
    connect(remove, &QToolButton::clicked, this, [this, i] {
        edit(tr("Take a finish off"), {}, [i](Layer& layer) {
            if (i < layer.finishes.size())
                layer.finishes.erase(layer.finishes.begin() + static_cast<std::ptrdiff_t>(i));
        });
    });
    auto* head = new QWidget;
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(made.on, 1);
    for (QWidget* button : std::initializer_list<QWidget*>{earlier, later, remove})
        row->addWidget(button);
    return head;
}

// A number, or a choice of words.
QWidget* FinishSection::fieldOf(Card& made, const FinishKind& kind, const FinishField& field,
                                std::size_t i) {
    const QString title = phraseOf("finish", field.id);
    const std::string id(field.id);
    if (!field.words.empty()) {
        auto* choice = named(new QComboBox, nameOf(i, id.c_str()).constData());
        choice->addItems(
            QString::fromUtf8(field.words.data(), static_cast<int>(field.words.size())).split('|'));
        choice->setAccessibleName(title);
        connect(choice, &QComboBox::activated, this, [this, i, id, title](int v) {
            editFinish(i, title, {}, [&](Finish& f) { f.set(id, v); });
        });
        made.choices.emplace_back(id, choice);
        return choice;
    }
    auto* number = named(
        new NumberField(phraseOf("finish", kind.id) + ", " + title.toLower(),
                        QString::fromUtf8(field.unit.data(), static_cast<int>(field.unit.size()))),
        nameOf(i, id.c_str()).constData());
    number->setRange(field.low, field.high, 1);
    hear(number, refusal_);
    connect(number, &NumberField::committed, this, [this, i, id, title](double v) {
        editFinish(i, title, "finish " + QString::fromStdString(id),
                   [&](Finish& f) { f.set(id, v); });
    });
    made.numbers.emplace_back(id, number);
    return number;
}

void FinishSection::fill(const Piece&, const Layer* layer) {
    build(layer->finishes);
    for (std::size_t i = 0; i < cards_.size(); ++i) {
        const Finish& finish = layer->finishes[i];
        cards_[i].on->setChecked(!finish.off);
        for (const auto& [id, field] : cards_[i].numbers) field->show(finish.value(id));
        for (const auto& [id, choice] : cards_[i].choices)
            choice->setCurrentIndex(static_cast<int>(finish.value(id)));
        cards_[i].colour->show(finish.colour);
    }
}

void FinishSection::fillLooks(QMenu* menu) {
    menu->clear();
    const auto add = [&](const Look& look, const QString& objectName) {
        QAction* action =
            menu->addAction(literally(QString::fromStdString(look.name)), this, [this, look] {
                editAll(tr("Wear “%1”").arg(QString::fromStdString(look.name)), {},
                        [&](Layer& layer) { layer = wearing(layer, look); });
            });
        action->setObjectName(objectName);
    };
    for (const Look& look : session_.kit().looks) add(look, "look");
    if (const auto& shelf = session_.shelf().looks(); !shelf.empty()) {
        menu->addSection(tr("My shelf"));
        for (const Look& look : shelf) add(look, "shelfLook");
    }
    if (menu->isEmpty()) menu->addSection(tr("No look is saved yet"));
    menu->addSeparator();
    menu->addAction(tr("Save as a look of the kit …"), this, [this] { saveLook(false); })
        ->setObjectName("saveLook");
    menu->addAction(tr("Save as a look on my shelf …"), this, [this] { saveLook(true); })
        ->setObjectName("saveShelfLook");
}

void FinishSection::saveLook(bool onShelf) {
    if (!session_.layer()) return;
    auto* ask = new QInputDialog(window());
    ask->setObjectName("lookName");
    ask->setAttribute(Qt::WA_DeleteOnClose);
    ask->setWindowTitle(tr("Save as a look"));
    ask->setLabelText(tr("Its name"));
    ask->setTextValue(QString::fromStdString(session_.layer()->name));
    connect(ask, &QInputDialog::textValueSelected, this, [this, onShelf](const QString& typed) {
        const QString name = typed.trimmed();
        if (name.isEmpty() || !session_.layer()) return;
        const Look look = lookOf(*session_.layer(), name.toStdString());
        if (!onShelf) {
            session_.apply(withLook(session_.kit(), look), tr("Save a look"));
            return session_.tell(tr("“%1” is a look of this kit now.").arg(name), false);
        }
        session_.shelf().add(look, [session = &session_, name](const Result<void>& done) {
            session->tell(done ? tr("“%1” is on your shelf now.").arg(name)
                               : QString::fromStdString(done.error().sentence()),
                          !done);
        });
    });
    ask->open();
}

}  // namespace zl::app
