// SPDX-License-Identifier: GPL-3.0-or-later
#include "ask/lay_out_dialog.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPointer>
#include <QPushButton>
#include <QVBoxLayout>

#include "edit/edits.h"
#include "layout/lay_out.h"
#include "look/theme.h"
#include "work/jobs.h"

namespace zl::app {

LayOutDialog::LayOutDialog(Session& session, QWidget* parent) : QDialog(parent), session_(session) {
    setObjectName("layOutDialog");
    setWindowTitle(tr("Lay out for other places"));
    setAttribute(Qt::WA_DeleteOnClose);
    // What is asked here is asked of the kit that is open.
    connect(&session_, &Session::opened, this, &QDialog::reject);
    resize(420, 470);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 16);
    column->setSpacing(12);
    auto* ask = new QLabel(
        tr("Where else does “%1” go?").arg(QString::fromStdString(session_.piece()->title)));
    ask->setFont(interfaceFont(15, 600));
    ask->setWordWrap(true);
    column->addWidget(ask);
    list_ = new QListWidget;
    list_->setObjectName("layOutBriefs");
    list_->setAccessibleName(tr("Places"));
    list_->setProperty("field", true);
    for (const Brief& brief : session_.briefs().all) {
        if (brief.id == session_.piece()->brief || brief.frameRule == FrameRule::any) continue;
        auto* item = new QListWidgetItem(
            QString("%1   %2 × %3")
                .arg(QString::fromStdString(brief.title), QString::number(brief.frame.width),
                     QString::number(brief.frame.height)),
            list_);
        item->setData(Qt::UserRole, QString::fromStdString(brief.id));
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(Qt::Unchecked);
    }
    column->addWidget(list_, 1);
    note_ = new QLabel;
    note_->setObjectName("layOutNote");
    note_->setProperty("soft", true);
    note_->setWordWrap(true);
    column->addWidget(note_);
    auto* buttons = new QHBoxLayout;
    buttons->addStretch();
    auto* cancel = new QPushButton(tr("Cancel"));
    start_ = new QPushButton(tr("Lay out"));
    start_->setObjectName("layOut");
    start_->setProperty("primary", true);
    start_->setDefault(true);
    buttons->addWidget(cancel);
    buttons->addWidget(start_);
    column->addLayout(buttons);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    connect(start_, &QPushButton::clicked, this, &LayOutDialog::layOut);
    connect(list_, &QListWidget::itemChanged, this, &LayOutDialog::refresh);
    refresh();
}

LayOutDialog::~LayOutDialog() {
    stop_.request_stop();
}

void LayOutDialog::refresh() {
    int chosen = 0;
    for (int i = 0; i < list_->count(); ++i)
        chosen += list_->item(i)->checkState() == Qt::Checked ? 1 : 0;
    start_->setEnabled(chosen > 0 && !busy_);
    start_->setToolTip(chosen > 0 ? QString() : tr("Tick a place first"));
    note_->setText(busy_ ? tr("Laying out …")
                         : tr("Each becomes a piece of its own: pictures cover the frame, "
                              "lettering stands inside the zones, nothing is stretched. "
                              "Later edits of text and pictures can be carried over."));
}

void LayOutDialog::layOut() {
    std::vector<Brief> places;
    for (int i = 0; i < list_->count(); ++i)
        if (list_->item(i)->checkState() == Qt::Checked)
            if (const Brief* brief = session_.briefs().find(
                    list_->item(i)->data(Qt::UserRole).toString().toStdString()))
                places.push_back(*brief);
    const Brief* from = session_.brief();
    if (!from || busy_) return;
    busy_ = true;
    refresh();
    const QPointer<LayOutDialog> self(this);
    const auto first = std::make_shared<std::string>();
    AsideEdit edit{.what = tr("Lay out for other places")};
    edit.stop = stop_.get_token();
    edit.make = [id = session_.piece()->id, from = *from, places, inks = session_.inks(), first](
                    const Kit& kit, const std::stop_token& stop) -> Result<Kit> {
        Kit out = kit;
        // The last one first, since each is put right behind the piece.
        for (auto place = places.rbegin(); place != places.rend(); ++place) {
            auto next = withPieceLaidOut(out, id, from, *place, *inks, stop);
            if (!next) return passOn(next.error());
            out = std::move(next->first);
            *first = next->second;
        }
        return out;
    };
    edit.ended = [self] {
        if (!self) return;
        self->busy_ = false;
        self->refresh();
    };
    edit.applied = [self, session = &session_, first, count = places.size()] {
        session->choice().choosePiece(*first);
        session->tell(count == 1 ? tr("One piece laid out.") : tr("%1 pieces laid out.").arg(count),
                      false);
        if (self) self->accept();
    };
    session_.applyAside(std::move(edit));
}

void carryEditsOver(Session& session) {
    const Piece* piece = session.piece();
    if (!piece) return;
    std::vector<std::pair<std::string, Brief>> due;
    const auto add = [&](const Piece& one) {
        if (const Brief* brief = session.briefs().find(one.brief)) due.emplace_back(one.id, *brief);
    };
    if (!piece->laidFrom.empty()) add(*piece);
    for (const Piece& one : session.kit().pieces)
        if (one.laidFrom == piece->id) add(one);
    if (due.empty())
        return session.tell(
            LayOutDialog::tr("Nothing was laid out from this piece, nor it from another."), true);
    AsideEdit edit{.what = LayOutDialog::tr("Carry edits over")};
    edit.make = [due, inks = session.inks()](const Kit& kit,
                                             const std::stop_token& stop) -> Result<Kit> {
        Result<Kit> next = kit;
        for (const auto& [id, brief] : due)
            if (next) next = withEditsCarriedOver(*next, id, brief, *inks, stop);
        return next;
    };
    edit.unchanged = [&session] {
        session.tell(LayOutDialog::tr("There was nothing new to carry over."), false);
    };
    edit.applied = [&session] {
        session.tell(LayOutDialog::tr("Edits carried over. Ctrl+Z brings it back."), false);
    };
    session.applyAside(std::move(edit));
}

}  // namespace zl::app
