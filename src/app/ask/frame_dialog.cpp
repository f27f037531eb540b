// SPDX-License-Identifier: GPL-3.0-or-later
#include "ask/frame_dialog.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QRadioButton>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "edit/arrange.h"
#include "edit/edits.h"
#include "layout/lay_out.h"
#include "look/theme.h"
#include "render/render.h"
#include "widgets/form.h"

namespace zl::app {

FrameDialog::FrameDialog(Session& session, QWidget* parent) : QDialog(parent), session_(session) {
    setObjectName("frameDialog");
    setWindowTitle(tr("Frame and size"));
    setAttribute(Qt::WA_DeleteOnClose);
    // What is asked here is asked of the kit that is open.
    connect(&session_, &Session::opened, this, &QDialog::reject);
    setMinimumWidth(420);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 16);
    column->setSpacing(8);
    buildWays(column);
    auto* form = new QWidget;
    auto* grid = new QGridLayout(form);
    grid->setContentsMargins(0, 8, 0, 0);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(8);
    grid->setColumnMinimumWidth(0, 80);
    brief_ = named(new QComboBox, "frameBrief");
    brief_->setAccessibleName(tr("The frame of a brief"));
    fillBriefs();
    const auto caption = [&](const QString& words, int row) {
        grid->addWidget(softLabel(words), row, 0);
    };
    caption(tr("Frame of"), 0);
    grid->addWidget(brief_, 0, 1, 1, 2);
    width_ = named(new NumberField(tr("New width"), tr("px")), "newWidth");
    height_ = named(new NumberField(tr("New height"), tr("px")), "newHeight");
    for (NumberField* field : {width_, height_}) field->setRange(1, 20'000, 0);
    caption(tr("Size"), 1);
    grid->addWidget(width_, 1, 1);
    grid->addWidget(height_, 1, 2);
    caption(tr("Margin"), 2);
    margin_ = named(new NumberField(tr("Margin round the ink"), tr("px")), "trimMargin");
    margin_->setRange(0, 2000, 0);
    margin_->show(0);
    grid->addWidget(margin_, 2, 1);
    caption(tr("What stays"), 3);
    buildAnchors();
    grid->addWidget(anchorBox_, 3, 1, Qt::AlignLeft);
    column->addWidget(form);
    about_ = new QLabel;
    about_->setProperty("soft", true);
    about_->setWordWrap(true);
    column->addWidget(about_);
    column->addWidget(refusal_ = refusalLine());
    for (NumberField* field : {width_, height_, margin_}) hear(field, refusal_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    buttons->button(QDialogButtonBox::Ok)->setText(tr("Change"));
    buttons->button(QDialogButtonBox::Ok)->setObjectName("changeFrame");
    buttons->button(QDialogButtonBox::Ok)->setProperty("primary", true);
    column->addStretch();
    column->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &FrameDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    listen();
    scale_->setChecked(true);
}

void FrameDialog::buildWays(QVBoxLayout* column) {
    const auto way = [&](const QString& words, const char* objectName) {
        auto* made = named(new QRadioButton(words), objectName);
        column->addWidget(made);
        connect(made, &QRadioButton::toggled, this, &FrameDialog::refresh);
        return made;
    };
    scale_ = way(tr("Scale all of it"), "scaleAll");
    relay_ = way(tr("Lay it out anew for another frame"), "relay");
    around_ = way(tr("Keep the layers, change the frame round them"), "frameAround");
    trim_ = way(tr("Trim the frame to the ink"), "trimFrame");
}

void FrameDialog::fillBriefs() {
    brief_->addItem(tr("a frame of its own"));
    for (const Brief& brief : session_.briefs().all)
        if (brief.frameRule != FrameRule::any)
            brief_->addItem(
                QString("%1, %2 × %3")
                    .arg(QString::fromStdString(brief.title), QString::number(brief.frame.width),
                         QString::number(brief.frame.height)),
                QSize(brief.frame.width, brief.frame.height));
}

void FrameDialog::buildAnchors() {
    anchorBox_ = new QWidget;
    auto* nine = new QGridLayout(anchorBox_);
    nine->setContentsMargins(0, 0, 0, 0);
    nine->setSpacing(2);
    anchors_ = new QButtonGroup(this);
    const QString rows[] = {tr("top"), tr("middle"), tr("bottom")},
                  columns[] = {tr("left"), tr("centre"), tr("right")};
    for (int i = 0; i < 9; ++i) {
        auto* button = named(new QToolButton, QString("anchor-%1").arg(i).toUtf8().constData());
        button->setCheckable(true);
        button->setChecked(i == 4);
        button->setProperty("cell", true);
        button->setFixedSize(26, 22);
        button->setAccessibleName(tr("What stays: %1 %2").arg(rows[i / 3], columns[i % 3]));
        button->setToolTip(button->accessibleName());
        anchors_->addButton(button, i);
        nine->addWidget(button, i / 3, i % 3);
    }
}

void FrameDialog::listen() {
    const PixelSize frame = session_.piece()->frame;
    width_->show(frame.width);
    height_->show(frame.height);
    leads_ = width_;
    connect(width_, &NumberField::committed, this, [this](double v) { sideTyped(width_, v); });
    connect(height_, &NumberField::committed, this, [this](double v) { sideTyped(height_, v); });
    connect(brief_, &QComboBox::activated, this, [this](int i) {
        if (i == 0) return;
        leads_ = width_;
        width_->show(brief_->itemData(i).toSize().width());
        height_->show(brief_->itemData(i).toSize().height());
    });
}

void FrameDialog::sideTyped(NumberField* side, double px) {
    side->show(px);
    leads_ = side;
    brief_->setCurrentIndex(0);  // it is a frame of its own now
    keepShape();
}

double FrameDialog::factor() const {
    const PixelSize frame = session_.piece()->frame;
    return leads_->text().toDouble() / (leads_ == width_ ? frame.width : frame.height);
}

// Scaling keeps the shape: the side that was not typed follows.
void FrameDialog::keepShape() {
    if (!scale_->isChecked()) return;
    const PixelSize frame = session_.piece()->frame;
    (leads_ == width_ ? height_ : width_)
        ->show(std::round((leads_ == width_ ? frame.height : frame.width) * factor()));
}

void FrameDialog::refresh() {
    keepShape();
    brief_->setEnabled(relay_->isChecked() || around_->isChecked());
    for (NumberField* field : {width_, height_}) field->setEnabled(!trim_->isChecked());
    margin_->setEnabled(trim_->isChecked());
    anchorBox_->setEnabled(around_->isChecked());
    about_->setText(
        scale_->isChecked()   ? tr("Pictures, letters, bars and finishes grow or shrink alike; "
                                     "pictures are resampled from their originals.")
        : relay_->isChecked() ? tr("What fills the frame fills the new one; the rest goes with its "
                                   "lesser side and keeps its place.")
        : around_->isChecked()
            ? tr("No layer changes its size. The point that is marked stays where it is.")
            : tr("The frame ends at the outermost ink, with the margin round it."));
}

Result<Kit> FrameDialog::outcome() const {
    const Piece& piece = *session_.piece();
    const PixelSize size{static_cast<int>(width_->text().toDouble()),
                         static_cast<int>(height_->text().toDouble())};
    if (scale_->isChecked()) return withPieceScaled(session_.kit(), piece.id, factor());
    if (around_->isChecked())
        return withFrame(session_.kit(), piece.id, size,
                         {(anchors_->checkedId() % 3) / 2.0, (anchors_->checkedId() / 3) / 2.0});
    if (relay_->isChecked()) {
        std::vector<RealRect> boxes;
        for (const Layer& layer : piece.layers) boxes.push_back(boxOf(layer));
        return withPieceRelaid(session_.kit(), piece.id, size, boxes);
    }
    return fail(Code::badUsage, "");
}

void FrameDialog::accept() {
    for (const NumberField* field : {width_, height_, margin_})
        if (field->isEnabled() && !field->refusal().isEmpty()) return;
    if (!trim_->isChecked()) {
        const auto kit = outcome();
        if (kit) {
            session_.apply(kit, tr("Frame and size"));
            return QDialog::accept();
        }
        refusal_->setText(QString::fromStdString(kit.error().sentence()));
        return refusal_->show();
    }
    // Where the ink ends is known once it is drawn: aside.
    AsideEdit edit{.what = tr("Trim the frame")};
    edit.make = [id = session_.piece()->id, inks = session_.inks(),
                 margin = static_cast<int>(margin_->text().toDouble())](
                    const Kit& kit, const std::stop_token& stop) {
        return withFrameTrimmed(kit, id, margin, *inks, stop);
    };
    session_.applyAside(std::move(edit));
    QDialog::accept();
}

}  // namespace zl::app
