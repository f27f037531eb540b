// SPDX-License-Identifier: GPL-3.0-or-later
#include <QMenu>
#include <QPushButton>
#include <QToolButton>

#include "base/arithmetic.h"
#include "edit/edits.h"
#include "look/theme.h"
#include "make/sections/sections.h"
#include "readings/zones.h"

namespace zl::app {

GuideSection::GuideSection(Session& session) : Section(session, tr("Guides")) {
    Form form(body());
    place_ = named(new QLineEdit, "guidePlace");
    place_->setPlaceholderText(tr("px, or with %"));
    place_->setAccessibleName(tr("Where the guide stands"));
    form.row(tr("At"), place_);
    const auto button = [](const QString& words, const char* objectName) {
        auto* made = named(new QPushButton(words), objectName);
        return made;
    };
    auto* upright = button(tr("Upright"), "addUprightGuide");
    auto* level = button(tr("Level"), "addLevelGuide");
    form.row(tr("Add"), upright, level);
    QToolButton* from = menuButton(tr("From a brief  ▾"), "guidesFromBrief",
                                   tr("Guides along a brief's zones, scaled to this frame"));
    from->setMenu(briefMenu(from));
    clear_ = named(new QPushButton(tr("Take all away")), "clearGuides");
    form.wide(sideBySide({from, clear_}));
    list_ = named(new QLabel, "guideList");
    list_->setProperty("soft", true);
    list_->setWordWrap(true);
    form.wide(list_);
    refusal_ = refusalLine();
    form.wide(refusal_);
    connect(upright, &QPushButton::clicked, this, [this] { add(true); });
    connect(level, &QPushButton::clicked, this, [this] { add(false); });
    connect(place_, &QLineEdit::returnPressed, this, [this] { add(true); });
    connect(clear_, &QPushButton::clicked, this, [this] {
        Piece next = *session_.piece();
        next.guides.clear();
        session_.apply(withChangedPiece(session_.kit(), next), tr("Take the guides away"));
    });
}

QMenu* GuideSection::briefMenu(QWidget* parent) {
    auto* menu = new QMenu(parent);
    fillBriefs(menu);
    // A brief of one's own may have come.
    connect(menu, &QMenu::aboutToShow, this, [this, menu] { fillBriefs(menu); });
    return menu;
}

void GuideSection::fillBriefs(QMenu* menu) {
    menu->clear();
    menu->addAction(tr("Centre lines"), this,
                    [this] {
                        Piece next = *session_.piece();
                        for (const Guide& guide : {Guide{true, 0.5, true}, Guide{false, 0.5, true}})
                            if (std::find(next.guides.begin(), next.guides.end(), guide) ==
                                next.guides.end())
                                next.guides.push_back(guide);
                        session_.apply(withChangedPiece(session_.kit(), next), tr("Centre lines"));
                    })
        ->setObjectName("guides-centre");
    for (const Brief& brief : session_.briefs().all) {
        if (brief.zones.empty()) continue;
        QAction* action = menu->addAction(
            literally(QString::fromStdString(brief.title)), this, [this, zones = brief.zones] {
                Piece next = *session_.piece();
                for (const Zone& zone : zones)
                    for (const Guide& guide :
                         {Guide{true, zone.part.x, true}, Guide{true, zone.part.right(), true},
                          Guide{false, zone.part.y, true}, Guide{false, zone.part.bottom(), true}})
                        if (guide.at > 0 && guide.at < 1 &&
                            std::find(next.guides.begin(), next.guides.end(), guide) ==
                                next.guides.end())
                            next.guides.push_back(guide);
                session_.apply(withChangedPiece(session_.kit(), next), tr("Guides from a brief"));
            });
        action->setObjectName("guides-" + QString::fromStdString(brief.id));
    }
}

void GuideSection::add(bool upright) {
    QString typed = place_->text().trimmed();
    const bool share = typed.endsWith('%');
    if (share) typed.chop(1);
    const auto value = evaluate(typed.toStdString());
    const auto refuse = [this](const QString& sentence) {
        refusal_->setText(sentence);
        refusal_->setVisible(!sentence.isEmpty());
    };
    if (!value) return refuse(QString::fromStdString(value.error().sentence()));
    Piece next = *session_.piece();
    next.guides.push_back({upright, share ? *value / 100 : *value, share});
    const auto edited = withChangedPiece(session_.kit(), next);
    if (!edited) return refuse(QString::fromStdString(edited.error().sentence()));
    refuse({});
    if (session_.apply(edited, tr("Add a guide"))) place_->clear();
}

void GuideSection::fill(const Piece& piece, const Layer*) {
    clear_->setEnabled(!piece.guides.empty());
    QStringList words;
    for (const Guide& guide : piece.guides)
        words << (guide.upright ? tr("│ %1") : tr("─ %1"))
                     .arg(guide.isShare ? QString::number(guide.at * 100, 'g', 4) + " %"
                                        : QString::number(guide.at, 'g', 6) + " px");
    list_->setText(words.isEmpty() ? tr("None yet. They are drawn over the piece, can be dragged "
                                        "there, and layers snap to them.")
                                   : words.mid(0, 24).join("   "));
}

}  // namespace zl::app
