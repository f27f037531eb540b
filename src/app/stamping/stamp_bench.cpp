// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamping/stamp_bench.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QScopedValueRollback>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "look/theme.h"
#include "stamping/what_form.h"
#include "widgets/form.h"
#include "widgets/panel.h"

namespace zl::app {
namespace {

enum class Which { there, lower, any };  // of the corners
enum class Unit { percent, px };
enum class Sizes { shortSide, width, px, inside, covers };
enum class OfPhoto { asStamp, own, leftOut };
enum class Tone { best, first, twin };

std::vector<StampAt> cornersOf(Which which) {
    using enum StampAt;
    if (which == Which::lower) return {bottomRight, bottomLeft};
    if (which == Which::any) return {bottomRight, bottomLeft, topRight, topLeft};
    return {};
}

Which whichOf(const Stamp& stamp) {
    return stamp.corners.empty()      ? Which::there
           : stamp.corners.size() > 2 ? Which::any
                                      : Which::lower;
}

Sizes sizesOf(const StampPlacing& placing) {
    if (placing.size != StampSize::width)
        return placing.size == StampSize::inside ? Sizes::inside : Sizes::covers;
    if (!placing.width.percent) return Sizes::px;
    return placing.of == StampOf::width ? Sizes::width : Sizes::shortSide;
}

void setSizes(StampPlacing& placing, Sizes sizes) {
    placing.size = sizes == Sizes::inside   ? StampSize::inside
                   : sizes == Sizes::covers ? StampSize::covers
                                            : StampSize::width;
    if (placing.size != StampSize::width) return;
    constexpr double usualPercent = 30, usualPx = 300;
    const bool percent = sizes != Sizes::px;
    if (placing.width.percent != percent)
        placing.width = {percent ? usualPercent : usualPx, percent};
    placing.of = sizes == Sizes::width ? StampOf::width
                 : sizes == Sizes::px  ? StampOf::px
                                       : StampOf::shortSide;
}

}  // namespace

StampBench::StampBench(Session& session, StampDesk& desk, QWidget* parent)
    : QWidget(parent), session_(session), desk_(desk) {
    setObjectName("bench");
    setAttribute(Qt::WA_StyledBackground);
    setFixedWidth(benchWidth);
    auto* inner = new QWidget;
    Panel panel(inner);
    inner->setFixedWidth(benchWidth - 12);
    panel.title(tr("Stamp"));
    panel.add(keeping_ = new StampKeeping(session, desk));
    panel.seam();
    what_ = new WhatForm(session, desk, panel, this);
    buildPlace(panel);
    buildSize(panel);
    buildStrength(panel);
    buildPhoto(panel);
    buildWhose(panel);
    buildCopies(panel);
    panel.end();
    auto* scroll = new QScrollArea;
    scroll->setObjectName("stampBenchScroll");
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(inner);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(scroll);
    connect(&desk_, &StampDesk::stampChanged, this, &StampBench::fill);
    connect(&desk_, &StampDesk::chosen, this, &StampBench::fill);
    connect(&desk_, &StampDesk::photoChanged, this, [this](int photo) {
        if (photo == desk_.now()) fillPhoto();
    });
    for (const auto signal : {&Session::kitChanged, &Session::opened})
        connect(&session_, signal, this, &StampBench::fill);
    fill();
}

NumberField* StampBench::number(Panel& panel, const QString& caption, const QString& unit,
                                const char* objectName,
                                const std::function<void(double)>& changed) {
    auto* field = panel.row(caption, new NumberField(caption, unit), objectName);
    connect(field, &NumberField::committed, this, [this, changed](double v) {
        if (!filling_) changed(v);
    });
    return field;
}

void StampBench::buildCells(Panel& panel) {
    auto* cells = new QWidget;
    auto* grid = new QGridLayout(cells);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(4);
    for (std::size_t i = 0; i < stampPlaces.size(); ++i) {
        const QString word =
            QString::fromUtf8(stampPlaces[i].data(), static_cast<int>(stampPlaces[i].size()));
        auto* cell = named(new QToolButton, ("stampAt-" + word).toUtf8().constData());
        cell->setProperty("cell", true);
        cell->setCheckable(true);
        cell->setAccessibleName(word);
        cell->setToolTip(word);
        cell->setFixedSize(44, 24);
        grid->addWidget(cell, static_cast<int>(i / 3), static_cast<int>(i % 3));
        places_.push_back(cell);
        connect(cell, &QToolButton::clicked, this, [this, i] {
            changePlacing([i](StampPlacing& p) {
                p.at = static_cast<StampAt>(i);
                p.centre.reset();
            });
        });
    }
    panel.whole(tr("Place"), sideBySide({cells}));
}

void StampBench::buildPlace(Panel& panel) {
    panel.seam();
    panel.title(tr("Where"));
    buildCells(panel);
    which_ = panel.row(tr("Corner"), new QComboBox, "stampCorner");
    offer<Which>(which_, {{tr("Always there"), Which::there},
                          {tr("Better lower one"), Which::lower},
                          {tr("Best of the four"), Which::any}});
    connect(which_, &QComboBox::activated, this, [this] {
        desk_.change([this](Stamp& s) {
            s.corners = cornersOf(chosenIn<Which>(which_));
            if (!s.corners.empty()) s.placing.centre.reset();
        });
    });
    const auto distance = [this](const QString& name, const char* id,
                                 Length StampPlacing::*length) {
        auto* field = named(new NumberField(name, {}), id);
        field->setToolTip(name);
        connect(field, &NumberField::committed, this, [this, length](double v) {
            changePlacing([&](StampPlacing& p) { (p.*length).value = v; });
        });
        return field;
    };
    insetX_ = distance(tr("From the left or right edge to the mark's ink"), "stampInsetX",
                       &StampPlacing::insetX);
    insetY_ = distance(tr("From the upper or lower edge to the mark's ink"), "stampInsetY",
                       &StampPlacing::insetY);
    insetY_->setFixedWidth(74);
    panel.pair(tr("Distance"), insetX_, insetY_);
    unit_ = panel.row(tr("In"), new QComboBox, "stampUnit");
    offer<Unit>(unit_, {{tr("% of the short side"), Unit::percent}, {tr("px"), Unit::px}});
    connect(unit_, &QComboBox::activated, this, [this] {
        const bool percent = chosenIn<Unit>(unit_) == Unit::percent;
        changePlacing([percent](StampPlacing& p) {
            for (Length* inset : {&p.insetX, &p.insetY})
                if (inset->percent != percent) *inset = {percent ? 4.0 : 40.0, percent};
        });
    });
    upright_ = named(new QCheckBox(tr("Its own on upright photographs")), "stampUpright");
    panel.add(upright_);
    connect(upright_, &QCheckBox::toggled, this, [this](bool on) {
        if (filling_) return;
        desk_.change([on](Stamp& s) {
            s.upright.reset();
            if (on) s.upright = s.placing;
        });
    });
    placeNote_ = panel.text("stampPlaceNote");
}

void StampBench::buildSize(Panel& panel) {
    panel.seam();
    panel.title(tr("How large"));
    size_ = panel.row(tr("Width"), new QComboBox, "stampSizeRule");
    offer<Sizes>(size_, {{tr("Of the short side"), Sizes::shortSide},
                         {tr("Of the photograph's width"), Sizes::width},
                         {tr("In px"), Sizes::px},
                         {tr("As large as fits"), Sizes::inside},
                         {tr("Over the whole photograph"), Sizes::covers}});
    connect(size_, &QComboBox::activated, this, [this] {
        changePlacing([this](StampPlacing& p) { setSizes(p, chosenIn<Sizes>(size_)); });
    });
    width_ = number(panel, tr(" "), "%", "stampWidth", [this](double v) {
        changePlacing([v](StampPlacing& p) { p.width.value = v; });
    });
    const auto bound = [this](double Stamp::*value) {
        return [this, value](double v) { desk_.change([&](Stamp& s) { s.*value = v; }); };
    };
    least_ = number(panel, tr("At least"), "px", "stampLeast", bound(&Stamp::least));
    most_ = number(panel, tr("At most"), "px", "stampMost", bound(&Stamp::most));
    capitals_ = number(panel, tr("Capitals"), tr("px at least"), "stampCapitals",
                       bound(&Stamp::leastCapitals));
    for (NumberField* field : {least_, most_}) {
        field->setRange(0, 100'000, 0);
        field->setWordsForZero(tr("any"));
    }
    capitals_->setRange(0, 1000, 1);
    capitals_->setWordsForZero(tr("any"));
}

void StampBench::buildStrength(Panel& panel) {
    panel.seam();
    panel.title(tr("How strong"));
    opacity_ = number(panel, tr("Opacity"), "%", "stampOpacity",
                      [this](double v) { desk_.change([v](Stamp& s) { s.opacity = v / 100; }); });
    opacity_->setRange(0, 100, 0);
    turn_ = number(panel, tr("Turned"), "°", "stampTurn",
                   [this](double v) { desk_.change([v](Stamp& s) { s.turn = v; }); });
    turn_->setRange(-360, 360, 1);
    turnNote_ = panel.note();
    turnNote_->setObjectName("stampTurnNote");
    tiled_ = named(new QCheckBox(tr("Repeated over all of it, for proofs")), "stampTiled");
    panel.add(tiled_);
    connect(tiled_, &QCheckBox::toggled, this, [this](bool on) {
        if (filling_) return;
        desk_.change([on](Stamp& s) {
            s.tiled.reset();
            if (on) s.tiled = Length{60, true};
        });
    });
    gap_ = number(panel, tr("Gap"), tr("% of its width"), "stampGap", [this](double v) {
        desk_.change([v](Stamp& s) { s.tiled = Length{v, true}; });
    });
    gap_->setRange(0, 1000, 0);
}

void StampBench::buildPhoto(Panel& panel) {
    panel.seam();
    panel.title(tr("This photograph"));
    photo_ = panel.row(tr("Mark"), new QComboBox, "stampOfPhoto");
    offer<OfPhoto>(photo_, {{tr("As the stamp says"), OfPhoto::asStamp},
                            {tr("At a place of its own"), OfPhoto::own},
                            {tr("Left out"), OfPhoto::leftOut}});
    tone_ = panel.row(tr("Tone"), new QComboBox, "stampTone");
    offer<Tone>(tone_, {{tr("Whichever is seen"), Tone::best},
                        {tr("The stamp"), Tone::first},
                        {tr("Its twin"), Tone::twin}});
    const auto changed = [this] {
        if (desk_.now() < 0) return;
        const StampPhoto& photo = desk_.photos()[static_cast<std::size_t>(desk_.now())];
        PhotoChoice choice = photo.choice;
        const OfPhoto of = chosenIn<OfPhoto>(photo_);
        choice.leftOut = of == OfPhoto::leftOut;
        if (of != OfPhoto::own) choice.placing.reset();
        if (of == OfPhoto::own && !choice.placing)
            choice.placing = desk_.stamp().placingOn(photo.size);
        const Tone tone = chosenIn<Tone>(tone_);
        choice.twin.reset();
        if (tone != Tone::best) choice.twin = tone == Tone::twin;
        desk_.setChoice(desk_.now(), choice);
        fill();
    };
    connect(photo_, &QComboBox::activated, this, changed);
    connect(tone_, &QComboBox::activated, this, changed);
}

void StampBench::buildWhose(Panel& panel) {
    panel.seam();
    panel.title(tr("Whose it is"));
    const auto line = [&](const QString& caption, const char* id, std::string Stamp::*value) {
        auto* field = panel.row(caption, new QLineEdit, id);
        connect(field, &QLineEdit::editingFinished, this, [this, field, value] {
            if (!filling_)
                desk_.change([&](Stamp& s) { s.*value = field->text().trimmed().toStdString(); });
        });
        return field;
    };
    author_ = line(tr("Author"), "stampAuthor", &Stamp::author);
    rights_ = line(tr("Rights"), "stampRights", &Stamp::rights);
    address_ = line(tr("Address"), "stampAddress", &Stamp::address);
    auto* note = panel.text("stampWhoseNote");
    note->setText(tr("Written into the marked copies, as EXIF and XMP."));
}

void StampBench::buildCopies(Panel& panel) {
    panel.seam();
    panel.title(tr("The copies"));
    quality_ = number(panel, tr("Quality"), tr("of 100"), "stampQuality", [this](double v) {
        qualityOfRun_ = v;
        quality_->show(v);
        Q_EMIT runChanged();
    });
    quality_->setRange(0, 100, 0);
    quality_->setWordsForZero(tr("its own"));
    limit_ = number(panel, tr("At most"), tr("kB"), "stampLimit", [this](double v) {
        limitOfRun_ = v;
        limit_->show(v);
        Q_EMIT runChanged();
    });
    limit_->setRange(0, 1'000'000, 0);
    limit_->setWordsForZero(tr("any weight"));
    quality_->show(0);
    limit_->show(0);
    clean_ = named(new QCheckBox(tr("Clean copies, too, for delivery")), "stampClean");
    clean_->setToolTip(tr("Without the mark, into a folder beside the marked ones"));
    panel.add(clean_);
}

void StampBench::complete(RunAsked& asked) const {
    asked.photo.quality = static_cast<int>(qualityOfRun_);
    if (limitOfRun_ > 0) asked.photo.limit = static_cast<long long>(limitOfRun_ * 1000);
    if (clean_->isChecked()) asked.clean = Path(asked.out.string() + " clean");
}

void StampBench::changePlacing(const std::function<void(StampPlacing&)>& how) {
    if (filling_) return;
    if (desk_.now() >= 0) {
        PhotoChoice choice = desk_.photos()[static_cast<std::size_t>(desk_.now())].choice;
        if (choice.placing) {
            how(*choice.placing);
            desk_.setChoice(desk_.now(), choice);
            return fill();
        }
    }
    const bool upright = placesUpright();
    desk_.change([&](Stamp& s) { how(upright ? *s.upright : s.placing); });
}

void StampBench::placeAt(RealPoint centre) {
    changePlacing([centre](StampPlacing& placing) { placing.centre = centre; });
    const bool own =
        desk_.now() >= 0 && desk_.photos()[static_cast<std::size_t>(desk_.now())].choice.placing;
    if (!own) desk_.change([](Stamp& stamp) { stamp.corners.clear(); });
}

// Whether the stamp's own place for upright photographs is what is set.
bool StampBench::placesUpright() const {
    if (!desk_.stamp().upright || desk_.now() < 0) return false;
    const PixelSize size = desk_.photos()[static_cast<std::size_t>(desk_.now())].size;
    return size.height > size.width;
}

const StampPlacing& StampBench::placing() const {
    if (desk_.now() >= 0)
        if (const auto& own = desk_.photos()[static_cast<std::size_t>(desk_.now())].choice.placing)
            return *own;
    return placesUpright() ? *desk_.stamp().upright : desk_.stamp().placing;
}

void StampBench::fill() {
    const QScopedValueRollback rollback(filling_, true);
    const Stamp& stamp = desk_.stamp();
    what_->fill();
    fillPlace();
    fillPhoto();
    least_->show(stamp.least);
    most_->show(stamp.most);
    capitals_->show(stamp.leastCapitals);
    opacity_->show(stamp.opacity * 100);
    turn_->show(stamp.turn);
    const double turned = std::abs(std::remainder(stamp.turn, 360));
    turnNote_->setText(turned > 135 ? tr("It stands upside down.") : QString());
    turnNote_->setVisible(turned > 135);
    tiled_->setChecked(stamp.tiled.has_value());
    gap_->parentWidget()->setVisible(stamp.tiled.has_value());
    gap_->show(stamp.tiled ? stamp.tiled->value : 60);
    const auto line = [](QLineEdit* field, const std::string& words) {
        if (!field->hasFocus()) field->setText(QString::fromStdString(words));
    };
    line(author_, stamp.author);
    line(rights_, stamp.rights);
    line(address_, stamp.address);
}

void StampBench::fillPlace() {
    const Stamp& stamp = desk_.stamp();
    const StampPlacing& now = placing();
    for (std::size_t i = 0; i < places_.size(); ++i)
        places_[i]->setChecked(!now.centre && now.at == static_cast<StampAt>(i));
    choose(which_, whichOf(stamp));
    insetX_->show(now.insetX.value);
    insetY_->show(now.insetY.value);
    choose(unit_, now.insetX.percent ? Unit::percent : Unit::px);
    upright_->setChecked(stamp.upright.has_value());
    QStringList notes;
    if (placesUpright()) notes << tr("You set the place on upright photographs.");
    if (now.centre) notes << tr("It stands where it was dragged to.");
    placeNote_->setText(notes.join(" "));
    placeNote_->setVisible(!notes.isEmpty());
    const Sizes sizes = sizesOf(now);
    choose(size_, sizes);
    width_->parentWidget()->setVisible(now.size == StampSize::width);
    width_->setRange(0.1, now.width.percent ? 1000 : 100'000, 1);
    width_->show(now.width.value);
    width_->setAccessibleName(sizes == Sizes::px ? tr("Width in px") : tr("Width in percent"));
}

void StampBench::fillPhoto() {
    const QScopedValueRollback rollback(filling_, true);
    const bool one = desk_.now() >= 0;
    photo_->setEnabled(one);
    tone_->setEnabled(one && desk_.stamp().twin.has_value());
    if (!one) return;
    const PhotoChoice& choice = desk_.photos()[static_cast<std::size_t>(desk_.now())].choice;
    choose(photo_, choice.leftOut   ? OfPhoto::leftOut
                   : choice.placing ? OfPhoto::own
                                    : OfPhoto::asStamp);
    choose(tone_, !choice.twin ? Tone::best : *choice.twin ? Tone::twin : Tone::first);
}

}  // namespace zl::app
