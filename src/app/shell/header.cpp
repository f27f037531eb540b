// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/header.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <algorithm>

#include "look/theme.h"
#include "widgets/view_tab.h"

namespace zl::app {

// The kit and its piece in one line; what has no room ends in "…", the kit's name first.
class Crumb : public QLabel {
  public:
    Crumb() {
        setObjectName("crumb");
        setTextFormat(Qt::RichText);
        setMinimumWidth(120);
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    }
    void show(const QString& kit, const QString& piece) {
        kit_ = kit;
        piece_ = piece;
        setToolTip(piece.isEmpty() ? kit : kit + "  ▸  " + piece);
        fit();
    }

  protected:
    void resizeEvent(QResizeEvent* event) override {
        QLabel::resizeEvent(event);
        fit();
    }

  private:
    void fit() {
        const QFontMetrics light(interfaceFont(13)), strong(interfaceFont(13, 600));
        if (piece_.isEmpty())
            return setText(heavy(strong.elidedText(kit_, Qt::ElideRight, width())));
        constexpr int least = 72;  // px that the kit's name keeps
        const int between = light.horizontalAdvance("  ▸  ") + 4;
        const int forKit = std::max(least, width() - between - strong.horizontalAdvance(piece_));
        const QString kit = light.elidedText(kit_, Qt::ElideRight, forKit);
        const int forPiece = width() - between - light.horizontalAdvance(kit);
        setText(QString("<span style='color:%1'>%2 &nbsp;▸&nbsp; </span>%3")
                    .arg(Theme::now()["ink-soft"].name(), kit.toHtmlEscaped(),
                         heavy(strong.elidedText(piece_, Qt::ElideRight, forPiece))));
    }
    QString kit_, piece_;
};

Header::Header(Session& session, const QStringList& titles, const QStringList& keys)
    : session_(session) {
    setObjectName("header");
    setAttribute(Qt::WA_StyledBackground);
    setFixedHeight(headerHeight);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 0, 16, 0);
    row->setSpacing(8);
    crumb_ = new Crumb;
    row->addWidget(crumb_, 1);
    tabs_ = new QButtonGroup(this);
    for (int i = 0; i < titles.size(); ++i) {
        auto* tab = new ViewTab(titles[i], keys[i]);
        tab->setObjectName("view-" + QString::number(i));
        tabs_->addButton(tab, i);
        row->addWidget(tab);
    }
    connect(tabs_, &QButtonGroup::idClicked, this, &Header::viewAsked);
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(8);
    saved_ = new QLabel;
    saved_->setObjectName("savedWords");
    saved_->setProperty("soft", true);
    buttons->addStretch();
    buttons->addWidget(saved_);
    const auto button = [&](const QString& words, const char* objectName) {
        auto* made = new QPushButton(words);
        made->setObjectName(objectName);
        buttons->addWidget(made);
        return made;
    };
    undo_ = button(tr("Undo"), "undo");
    redo_ = button(tr("Redo"), "redo");
    auto* save = button(tr("Save"), "save");
    row->addLayout(buttons, 1);
    connect(undo_, &QPushButton::clicked, &session_.document().history(), &QUndoStack::undo);
    connect(redo_, &QPushButton::clicked, &session_.document().history(), &QUndoStack::redo);
    connect(save, &QPushButton::clicked, this, &Header::saveAsked);
    QUndoStack& history = session_.document().history();
    connect(&history, &QUndoStack::indexChanged, this, &Header::followHistory);
    connect(&history, &QUndoStack::canUndoChanged, this, &Header::followHistory);
    connect(&history, &QUndoStack::canRedoChanged, this, &Header::followHistory);
    followHistory();
}

void Header::nameKeys(const QString& undo, const QString& redo) {
    undoKey_ = undo;
    redoKey_ = redo;
    followHistory();
}

void Header::followHistory() {
    const QUndoStack& history = session_.document().history();
    undo_->setEnabled(history.canUndo());
    redo_->setEnabled(history.canRedo());
    undo_->setToolTip(history.canUndo() ? tr("Undo: %1 (%2)").arg(history.undoText(), undoKey_)
                                        : tr("Nothing to undo"));
    redo_->setToolTip(history.canRedo() ? tr("Redo: %1 (%2)").arg(history.redoText(), redoKey_)
                                        : tr("Nothing to redo"));
}

void Header::showView(int view) {
    tabs_->button(view)->setChecked(true);
}

void Header::refresh() {
    const Piece* piece = session_.piece();
    crumb_->show(QString::fromStdString(session_.kit().title),
                 piece ? QString::fromStdString(piece->title) : QString());
    saved_->setText(session_.document().changed() ? tr("not saved")
                    : session_.files().path()     ? tr("saved")
                                                  : QString());
}

}  // namespace zl::app
