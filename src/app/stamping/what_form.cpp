// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamping/what_form.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScopedValueRollback>
#include <QSignalBlocker>

#include "store/stamp_json.h"
#include "widgets/form.h"
#include "widgets/panel.h"

namespace zl::app {
namespace {

constexpr int textKind = 0, pictureKind = 1, pieceKind = 2;

// Dark for light and light for dark, the outline the other way.
StampText twinOf(StampText text) {
    Finish* outline = outerOutline(text.finishes);
    const Colour dark{20, 24, 28, 255};
    const Colour before = text.letters.colour;
    text.letters.colour = outline ? outline->colour : dark;
    if (outline) outline->colour = before;
    return text;
}

}  // namespace

WhatForm::WhatForm(Session& session, StampDesk& desk, Panel& panel, QObject* parent)
    : QObject(parent), session_(session), desk_(desk) {
    panel.title(tr("What it shows"));
    kind_ = panel.row(tr("Kind"), new QComboBox, "stampKind");
    kind_->addItems({tr("Text"), tr("Picture file"), tr("Piece of the kit")});
    connect(kind_, &QComboBox::activated, this, &WhatForm::chooseKind);
    buildText(panel);
    buildOutline(panel);
    buildTwin(panel);
    picture_ = buildFile(panel, tr("File"), "stampPicture", false, pictureRow_);
    twinPicture_ = buildFile(panel, tr("Its twin"), "stampTwinPicture", true, twinPictureRow_);
    buildPieces(panel);
    fill();
    filling_ = false;
}

void WhatForm::buildText(Panel& panel) {
    text_ = named(new QPlainTextEdit, "stampText");
    text_->setAccessibleName(tr("Text"));
    text_->setFixedHeight(52);
    text_->setTabChangesFocus(true);
    text_->setToolTip(tr("{year}, {date}, {file} and {n} are put in for each photograph"));
    textRows_.push_back(panel.whole(tr("Text"), text_));
    textRows_.back()->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    connect(text_, &QPlainTextEdit::textChanged, this, [this] {
        if (filling_) return;
        const std::string words = text_->toPlainText().toStdString();
        const auto* now = std::get_if<StampText>(&desk_.stamp().what);
        if (!now || now->letters.text == words) return;  // its margins changed, or its style
        changeText([&](StampText& what) { what.letters.text = words; });
    });
    colour_ = named(new ColourField(tr("Colour")), "stampColour");
    textRows_.push_back(panel.whole(tr("Colour"), colour_));
    connect(colour_, &ColourField::committed, this, [this](Colour colour) {
        changeText([&](StampText& what) { what.letters.colour = colour; });
    });
}

void WhatForm::buildOutline(Panel& panel) {
    outline_ = named(new NumberField(tr("Outline"), "px"), "stampOutline");
    outline_->setRange(0, 50, 1);
    outline_->setToolTip(tr("At letters of 100 px; it grows with them"));
    outlineColour_ = named(new ColourField(tr("Colour of the outline")), "stampOutlineColour");
    textRows_.push_back(panel.whole(tr("Outline"), outline_));
    textRows_.push_back(panel.whole(tr(" "), outlineColour_));
    const auto outline = [this](const std::function<void(double&, Colour&)>& how) {
        changeText([&](StampText& what) {
            Finish* there = outerOutline(what.finishes);
            double px = there ? outerWidth(*there) : 0;
            Colour colour = there ? there->colour : Colour{20, 24, 28, 255};
            how(px, colour);
            std::erase_if(what.finishes, [](const Finish& f) { return f.kind == "outline"; });
            if (px > 0) what.finishes.insert(what.finishes.begin(), outlineOf(px, colour));
        });
    };
    connect(outline_, &NumberField::committed, this, [this, outline](double v) {
        if (!filling_) outline([v](double& px, Colour&) { px = v; });
    });
    connect(outlineColour_, &ColourField::committed, this, [outline](Colour chosen) {
        outline([&](double&, Colour& colour) { colour = chosen; });
    });
}

void WhatForm::buildTwin(Panel& panel) {
    twin_ = named(new QCheckBox(tr("A twin for the other tone")), "stampTwin");
    twin_->setToolTip(tr("The one that is seen better is taken on each photograph"));
    panel.add(twin_);
    textRows_.push_back(twin_);
    connect(twin_, &QCheckBox::toggled, this, [this](bool on) {
        if (filling_) return;
        desk_.change([on](Stamp& stamp) {
            stamp.twin.reset();
            if (on) stamp.twin = twinOf(std::get<StampText>(stamp.what));
        });
    });
}

QLineEdit* WhatForm::buildFile(Panel& panel, const QString& caption, const char* id, bool twin,
                               QWidget*& row) {
    auto* field = new PathField;
    field->setObjectName(id);
    field->setAccessibleName(caption);
    auto* browse = named(new QPushButton("…"), twin ? "stampTwinBrowse" : "stampBrowse");
    browse->setAccessibleName(tr("Choose a picture"));
    browse->setFixedWidth(34);
    auto* both = new QWidget;
    auto* line = new QHBoxLayout(both);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    line->addWidget(field, 1);
    line->addWidget(browse);
    row = panel.whole(caption, both);
    connect(browse, &QPushButton::clicked, this, [this, twin] { Q_EMIT pictureAsked(twin); });
    connect(field, &QLineEdit::editingFinished, this, [this, field, twin] {
        if (!filling_) setPicture(field->text(), twin);
    });
    return field;
}

void WhatForm::buildPieces(Panel& panel) {
    piece_ = named(new QComboBox, "stampPiece");
    piece_->setAccessibleName(tr("Piece"));
    pieceRow_ = panel.whole(tr("Piece"), piece_);
    twinPiece_ = named(new QComboBox, "stampTwinPiece");
    twinPiece_->setAccessibleName(tr("Its twin"));
    twinPieceRow_ = panel.whole(tr("Its twin"), twinPiece_);
    const auto piece = [this] {
        desk_.change([this](Stamp& stamp) {
            stamp.what = StampPiece{{}, piece_->currentData().toString().toStdString()};
            const std::string twin = twinPiece_->currentData().toString().toStdString();
            stamp.twin.reset();
            if (!twin.empty()) stamp.twin = StampPiece{{}, twin};
        });
    };
    connect(piece_, &QComboBox::activated, this, piece);
    connect(twinPiece_, &QComboBox::activated, this, piece);
}

void WhatForm::changeText(const std::function<void(StampText&)>& how) {
    if (filling_) return;
    desk_.change([&](Stamp& stamp) {
        auto* text = std::get_if<StampText>(&stamp.what);
        if (!text) return;
        how(*text);
        if (stamp.twin) stamp.twin = twinOf(*text);
    });
}

void WhatForm::chooseKind(int kind) {
    desk_.change([&](Stamp& stamp) {
        stamp.twin.reset();
        if (kind == textKind)
            stamp.what = std::get<StampText>(exampleStamp().what);
        else if (kind == pictureKind)
            stamp.what = StampPicture{};
        else
            stamp.what = StampPiece{{}, session_.piece() ? session_.piece()->id : ""};
    });
}

void WhatForm::setPicture(const QString& file, bool twin) {
    desk_.change([&](Stamp& stamp) {
        const StampPicture picture{file.trimmed().toStdString()};
        if (!twin)
            stamp.what = picture;
        else if (picture.file.empty())
            stamp.twin.reset();
        else
            stamp.twin = picture;
    });
}

void WhatForm::fill() {
    const QScopedValueRollback rollback(filling_, true);
    const Stamp& stamp = desk_.stamp();
    const int kind = static_cast<int>(stamp.what.index());
    kind_->setCurrentIndex(kind);
    for (QWidget* row : textRows_) row->setVisible(kind == textKind);
    for (QWidget* row : {pictureRow_, twinPictureRow_}) row->setVisible(kind == pictureKind);
    for (QWidget* row : {pieceRow_, twinPieceRow_}) row->setVisible(kind == pieceKind);
    if (const auto* text = std::get_if<StampText>(&stamp.what)) {
        const QString words = QString::fromStdString(text->letters.text);
        if (text_->toPlainText() != words) text_->setPlainText(words);
        colour_->show(text->letters.colour);
        const Finish* outline = outerOutline(text->finishes);
        outline_->show(outline ? outerWidth(*outline) : 0);
        outlineColour_->show(outline ? outline->colour : Colour{20, 24, 28, 255});
        twin_->setChecked(stamp.twin.has_value());
    }
    const auto fileOf = [](const StampWhat& what) {
        const auto* picture = std::get_if<StampPicture>(&what);
        return picture ? QString::fromStdString(picture->file) : QString();
    };
    picture_->setText(fileOf(stamp.what));
    twinPicture_->setText(stamp.twin ? fileOf(*stamp.twin) : QString());
    fillPieces();
}

void WhatForm::fillPieces() {
    const auto idOf = [](const StampWhat& what) {
        const auto* piece = std::get_if<StampPiece>(&what);
        return piece ? QString::fromStdString(piece->piece) : QString();
    };
    const Stamp& stamp = desk_.stamp();
    for (QComboBox* box : {piece_, twinPiece_}) {
        const QSignalBlocker block(box);
        box->clear();
        if (box == twinPiece_) box->addItem(tr("None"), QString());
        for (const Piece& piece : session_.kit().pieces)
            box->addItem(QString::fromStdString(piece.title), QString::fromStdString(piece.id));
        const QString now = box == piece_ ? idOf(stamp.what)
                            : stamp.twin  ? idOf(*stamp.twin)
                                          : QString();
        box->setCurrentIndex(box->findData(now));
    }
}

}  // namespace zl::app
