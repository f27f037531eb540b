// SPDX-License-Identifier: GPL-3.0-or-later
#include <QToolButton>

#include "edit/arrange.h"
#include "edit/edits.h"
#include "make/sections/sections.h"
#include "render/render.h"

namespace zl::app {

ArrangeSection::ArrangeSection(Session& session) : Section(session, tr("Arrange")) {
    Form form(body());
    turn_ = named(new NumberField(tr("Turn"), tr("°")), "turn");
    turn_->setRange(-360, 360, 2);
    blend_ = named(new QComboBox, "blend");
    blend_->setAccessibleName(tr("Blend mode"));
    offer<Blend>(blend_, {{tr("Normal"), Blend::normal},
                          {tr("Multiply"), Blend::multiply},
                          {tr("Screen"), Blend::screen},
                          {tr("Overlay"), Blend::overlay},
                          {tr("Soft light"), Blend::softLight}});
    form.row(tr("Turn"), turn_);
    const auto button = [this](const char* icon, const char* objectName, const QString& name,
                               auto run) {
        QToolButton* made = iconButton(icon, objectName, name);
        connect(made, &QToolButton::clicked, this, run);
        return made;
    };
    form.row(
        QString(),
        sideBySide(
            {button("turn-left", "turnLeft", tr("A quarter turn to the left"),
                    [this] { quarter(-90); }),
             button("turn-right", "turnRight", tr("A quarter turn to the right"),
                    [this] { quarter(90); }),
             button("flip-x", "flipX", tr("Mirror left to right"), [this] { mirror(true); }),
             button("flip-y", "flipY", tr("Mirror top to bottom"), [this] { mirror(false); })}));
    form.row(tr("Blend"), blend_);
    alignTo_ = named(new QComboBox, "alignTo");
    alignTo_->setAccessibleName(tr("Line up with"));
    alignTo_->addItems({tr("with the frame"), tr("with one another")});
    form.row(tr("Line up"), alignTo_);
    const std::tuple<const char*, const char*, QString> lines[] = {
        {"edge-left", "edgeLeft", tr("Left edges")},
        {"edge-middle", "edgeMiddle", tr("Middles, left to right")},
        {"edge-right", "edgeRight", tr("Right edges")},
        {"edge-top", "edgeTop", tr("Top edges")},
        {"edge-centre", "edgeCentre", tr("Centres, top to bottom")},
        {"edge-bottom", "edgeBottom", tr("Bottom edges")}};
    std::vector<QWidget*> aligns;
    for (int i = 0; i < 6; ++i) {
        const auto& [icon, objectName, name] = lines[i];
        aligns.push_back(button(icon, objectName, name, [this, i] { align(i); }));
    }
    form.wide(sideBySide(aligns));
    gaps_ = {
        button("gaps-across", "gapsAcross", tr("Equal gaps across"), [this] { distribute(true); }),
        button("gaps-down", "gapsDown", tr("Equal gaps down"), [this] { distribute(false); })};
    match_ = button("match-size", "matchSize", tr("As wide as the layer that was chosen last"),
                    [this] { matchSize(); });
    form.wide(sideBySide({gaps_[0], gaps_[1], match_}));
    listen();
}

void ArrangeSection::quarter(double by) {
    editAll(tr("Turn"), {}, [by](Layer& layer) {
        const double turned = layer.turn.degrees + by;
        layer.turn.degrees = turned > 180 ? turned - 360 : turned <= -180 ? turned + 360 : turned;
    });
}

void ArrangeSection::mirror(bool across) {
    editAll(tr("Mirror"), {}, [across](Layer& layer) {
        // Mirrored as it stands: what is turned one way is turned the other way afterwards.
        (across ? layer.turn.flipX : layer.turn.flipY) ^= true;
        layer.turn.degrees = layer.turn.degrees == 180 ? 180 : -layer.turn.degrees;
    });
}

void ArrangeSection::listen() {
    connect(turn_, &NumberField::committed, this, [this](double v) {
        editAll(tr("Turn"), "turn", [v](Layer& layer) { layer.turn.degrees = v; });
    });
    connect(blend_, &QComboBox::activated, this, [this] {
        editAll(tr("Blend"), {},
                [blend = chosenIn<Blend>(blend_)](Layer& layer) { layer.blend = blend; });
    });
}

void ArrangeSection::fill(const Piece&, const Layer* layer) {
    turn_->show(layer->turn.degrees);
    choose(blend_, layer->blend);
    const std::size_t chosen = session_.chosenIds().size();
    for (QToolButton* gap : gaps_) {
        gap->setEnabled(chosen > 2);
        gap->setToolTip(chosen > 2
                            ? gap->accessibleName()
                            : tr("%1: choose three layers or more").arg(gap->accessibleName()));
    }
    match_->setEnabled(chosen > 1);
    match_->setToolTip(chosen > 1
                           ? match_->accessibleName()
                           : tr("%1: choose two layers or more").arg(match_->accessibleName()));
}

namespace {

// Layers of one group are lined up as one.
struct Unit {
    std::vector<const Layer*> layers;
    RealRect box;
};

std::vector<Unit> unitsOf(const Piece& piece, const std::set<int>& ids) {
    std::vector<Unit> units;
    std::set<int> groups;
    for (const Layer& layer : piece.layers) {
        if (!ids.contains(layer.id) || (layer.group != 0 && !groups.insert(layer.group).second))
            continue;
        Unit unit;
        std::vector<RealRect> boxes;
        for (const Layer& mate : piece.layers)
            if (mate.id == layer.id || (layer.group != 0 && mate.group == layer.group)) {
                unit.layers.push_back(&mate);
                boxes.push_back(boundsOf(mate));
            }
        unit.box = *around(boxes);
        units.push_back(std::move(unit));
    }
    return units;
}

std::vector<Layer> movedUnits(const std::vector<Unit>& units, const std::vector<RealPoint>& moves) {
    std::vector<Layer> layers;
    for (std::size_t i = 0; i < units.size(); ++i)
        for (const Layer* layer : units[i].layers)
            layers.push_back(moved(*layer, moves[i].x, moves[i].y));
    return layers;
}

std::vector<RealRect> boxesOf(const std::vector<Unit>& units) {
    std::vector<RealRect> boxes;
    for (const Unit& unit : units) boxes.push_back(unit.box);
    return boxes;
}

}  // namespace

void ArrangeSection::align(int line) {
    const Piece& piece = *session_.piece();
    const auto units = unitsOf(piece, session_.chosenIds());
    const auto boxes = boxesOf(units);
    const bool toOthers = alignTo_->currentIndex() == 1;
    if (toOthers && units.size() < 2)
        return session_.tell(tr("Choose two layers or more to line them up with one another."),
                             true);
    const RealRect to = toOthers ? *around(boxes) : RealRect::of(piece.frame);
    session_.apply(
        withChangedLayers(session_.kit(), piece.id,
                          movedUnits(units, alignMoves(boxes, to, static_cast<Line>(line)))),
        tr("Line up"));
}

void ArrangeSection::distribute(bool across) {
    const Piece& piece = *session_.piece();
    const auto units = unitsOf(piece, session_.chosenIds());
    session_.apply(withChangedLayers(session_.kit(), piece.id,
                                     movedUnits(units, distributeMoves(boxesOf(units), across))),
                   tr("Equal gaps"));
}

void ArrangeSection::matchSize() {
    const double width = boxOf(*session_.layer()).width;
    const int primary = session_.layer()->id;
    editAll(tr("Match size"), {}, [width, primary](Layer& layer) {
        const RealRect box = boxOf(layer);
        if (layer.id != primary && box.width > 0)
            layer = scaled(layer, width / box.width, width / box.width, {box.x, box.y});
    });
}

}  // namespace zl::app
