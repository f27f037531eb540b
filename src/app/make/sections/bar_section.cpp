// SPDX-License-Identifier: GPL-3.0-or-later
#include <QCheckBox>
#include <QToolButton>

#include "make/sections/sections.h"

namespace zl::app {

BarSection::BarSection(Session& session) : KindSection(session, tr("Bar")) {
    Form form(body());
    shape_ = named(new QComboBox, "shape");
    shape_->setAccessibleName(tr("Shape"));
    offer<BarShape>(shape_, {{tr("Rectangle"), BarShape::rectangle},
                             {tr("Rounded rectangle"), BarShape::rounded},
                             {tr("Ellipse"), BarShape::ellipse},
                             {tr("Ring"), BarShape::ring},
                             {tr("Line"), BarShape::line},
                             {tr("Arrow"), BarShape::arrow}});
    form.row(tr("Shape"), shape_);
    radius_ = named(new NumberField(tr("Corners"), tr("px")), "radius");
    radius_->setRange(0, 20'000, 1);
    thickness_ = named(new NumberField(tr("Thickness"), tr("px")), "thickness");
    thickness_->setRange(0.1, 20'000, 1);
    form.row(tr("Corners"), radius_);
    form.row(tr("Thickness"), thickness_);
    colour_ = named(new ColourField(tr("Bar colour")), "barColour");
    colour_->text()->setObjectName("barColourText");
    colour_->setProperty("takesAlpha", true);
    form.row(tr("Colour"), colour_);
    fades_ = named(new QCheckBox(tr("Gradient")), "fades");
    toNothing_ = named(new QCheckBox(tr("to nothing")), "toNothing");
    form.row(QString(), fades_, toNothing_);
    fade_ = named(new ColourField(tr("Gradient ends in")), "fade");
    fade_->text()->setObjectName("fadeText");
    fade_->setProperty("takesAlpha", true);
    form.row(tr("Ends in"), fade_);
    angle_ = named(new NumberField(tr("Gradient's direction"), tr("°")), "fadeAngle");
    angle_->setRange(-360, 360, 1);
    form.row(tr("Direction"), angle_);
    auto* refusal = refusalLine();
    form.wide(refusal);
    for (QWidget* field :
         std::initializer_list<QWidget*>{radius_, thickness_, angle_, colour_, fade_})
        hear(field, refusal);

    listen();
}

void BarSection::listen() {
    connect(shape_, &QComboBox::activated, this, [this] {
        editEach(tr("Shape"), {},
                 [shape = chosenIn<BarShape>(shape_)](BarLayer& b) { b.shape = shape; });
    });
    connect(radius_, &NumberField::committed, this, [this](double v) {
        editEach(tr("Corners"), "radius", [v](BarLayer& b) { b.radius = v; });
    });
    connect(thickness_, &NumberField::committed, this, [this](double v) {
        editEach(tr("Thickness"), "thickness", [v](BarLayer& b) { b.thickness = v; });
    });
    connect(angle_, &NumberField::committed, this, [this](double v) {
        editEach(tr("Direction"), "fadeAngle", [v](BarLayer& b) { b.fadeDegrees = v; });
    });
    connect(colour_, &ColourField::committed, this, [this](Colour c) {
        editEach(tr("Colour"), {}, [c](BarLayer& b) {
            // A gradient to nothing keeps its colour on the way.
            if (b.fade && b.fade->alpha == 0) b.fade = Colour{c.red, c.green, c.blue, 0};
            b.colour = c;
        });
    });
    connect(fade_, &ColourField::committed, this,
            [this](Colour c) { editEach(tr("Gradient"), {}, [c](BarLayer& b) { b.fade = c; }); });
    connect(fades_, &QCheckBox::clicked, this, [this](bool on) {
        editEach(tr("Gradient"), {}, [on](BarLayer& b) {
            if (on)
                b.fade = Colour{b.colour.red, b.colour.green, b.colour.blue, 0};
            else
                b.fade.reset();
        });
    });
    connect(toNothing_, &QCheckBox::clicked, this, [this](bool on) {
        editEach(tr("Gradient"), {}, [on](BarLayer& b) {
            if (b.fade) b.fade->alpha = on ? 0 : 255;
        });
    });
}

void BarSection::fillFrom(const BarLayer& bar, const Layer&, const Piece&) {
    choose(shape_, bar.shape);
    radius_->show(bar.radius);
    thickness_->show(bar.thickness);
    radius_->setEnabled(bar.shape == BarShape::rounded);
    radius_->setToolTip(radius_->isEnabled() ? QString()
                                             : tr("Only a rounded rectangle has corners to round"));
    thickness_->setEnabled(bar.shape == BarShape::ring || bar.shape == BarShape::arrow);
    thickness_->setToolTip(
        thickness_->isEnabled()
            ? QString()
            : tr("Only a ring and an arrow have a thickness; a line is as thick as it is high"));
    colour_->show(bar.colour);
    fades_->setChecked(bar.fade.has_value());
    toNothing_->setEnabled(bar.fade.has_value());
    toNothing_->setChecked(bar.fade && bar.fade->alpha == 0);
    const bool ends = bar.fade && bar.fade->alpha > 0;
    fade_->setEnabled(ends);
    fade_->show(bar.fade.value_or(bar.colour));
    angle_->setEnabled(bar.fade.has_value());
    angle_->show(bar.fadeDegrees);
}

}  // namespace zl::app
