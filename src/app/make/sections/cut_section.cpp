// SPDX-License-Identifier: GPL-3.0-or-later
#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QSlider>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "cut/cut.h"
#include "edit/edits.h"
#include "look/theme.h"
#include "make/sections/sections.h"
#include "make/sections/subject_card.h"
#include "words/words.h"

namespace zl::app {
namespace {

QString kindOf(const Cut& cut) {
    if (cut.key()) return CutSection::tr("Colour key");
    if (cut.subject()) return CutSection::tr("Subject");
    if (const ShapeCut* shape = cut.shape()) {
        if (shape->shape == CutShape::polygon) return CutSection::tr("Polygon");
        if (shape->shape == CutShape::rounded) return CutSection::tr("Rounded corners");
        return std::abs(shape->box.width - shape->box.height) < 1e-6 ? CutSection::tr("Circle")
                                                                     : CutSection::tr("Ellipse");
    }
    switch (cut.clean()->what) {
        case Cleaning::fringe:
            return CutSection::tr("Fringe taken off");
        case Cleaning::steps:
            return CutSection::tr("Steps softened");
        case Cleaning::specks:
            return CutSection::tr("Specks removed");
        case Cleaning::pinholes:
            return CutSection::tr("Pinholes filled");
        case Cleaning::haze:
            return CutSection::tr("Haze cleared");
        case Cleaning::premultiplied:
            return CutSection::tr("Colour put right");
    }
    return {};
}

// What the cards are built of: when it changes, they are built anew.
QString shapeOf(const std::vector<Cut>& cuts) {
    QString out;
    for (const Cut& cut : cuts)
        out += QString("%1%2 ")
                   .arg(cut.what.index())
                   .arg(cut.shape()   ? static_cast<int>(cut.shape()->shape)
                        : cut.clean() ? static_cast<int>(cut.clean()->what)
                                      : 0);
    return out;
}

}  // namespace

CutSection::CutSection(Session& session) : KindSection(session, tr("Cut")) {
    auto* column = new QVBoxLayout(body());
    column->setContentsMargins(0, 0, 0, 12);
    column->setSpacing(8);
    list_ = new QWidget;
    cards_ = new QVBoxLayout(list_);
    cards_->setContentsMargins(0, 0, 0, 0);
    cards_->setSpacing(10);
    column->addWidget(list_);
    auto* foot = new QWidget;
    Form form(foot);
    auto* key = named(new QPushButton(tr("Take the background off")), "addKey");
    key->setToolTip(tr("Finds the flat colour round the picture and solves the edge from it"));
    connect(key, &QPushButton::clicked, this, [this] { add({KeyCut{}}); });
    QToolButton* more = menuButton(tr("Shape  ▾"), "addCut");
    auto* menu = new QMenu(more);
    const auto offer = [&](const char* objectName, const QString& words, CutShape shape,
                           bool round) {
        connect(menu->addAction(words), &QAction::triggered, this,
                [this, shape, round] { addShape(shape, round); });
        menu->actions().back()->setObjectName(objectName);
    };
    offer("addCircleCut", tr("Circle"), CutShape::ellipse, true);
    offer("addEllipseCut", tr("Ellipse"), CutShape::ellipse, false);
    offer("addRoundedCut", tr("Rounded corners"), CutShape::rounded, false);
    offer("addPolygonCut", tr("Polygon"), CutShape::polygon, false);
    more->setMenu(menu);
    form.wide(key);
    subject_ = named(new QPushButton(tr("Cut the subject out")), "addSubject");
    subject_->setToolTip(
        tr("Finds what an ordinary photograph shows; strokes correct it, the edge is solved"));
    connect(subject_, &QPushButton::clicked, this, [this] { add({SubjectCut{}}); });
    form.wide(subject_);
    inside_ = named(new QPushButton(tr("Move inside the cut")), "moveInside");
    inside_->setCheckable(true);
    inside_->setToolTip(tr(
        "While this is on, dragging and scaling the picture leaves its shapes where they stand"));
    connect(inside_, &QPushButton::toggled, this, &CutSection::insideAsked);
    form.wide(inside_);
    tidy_ = named(new QPushButton(tr("Trim into the frame")), "trimIntoFrame");
    tidy_->setToolTip(
        tr("Trims the empty rim away and scales the ink into the frame, centred, its shape held"));
    connect(tidy_, &QPushButton::clicked, this, &CutSection::trimAsked);
    form.wide(sideBySide({more, tidy_}));
    form.wide(refusal_ = refusalLine());
    column->addWidget(foot);
}

void CutSection::add(Cut cut) {
    editOne(tr("Cut"), {}, [&](PictureLayer& picture) {
        // Keys and cleanings come before shapes, as they are put on.
        auto& cuts = picture.cuts;
        const auto at = cut.shape() ? cuts.end()
                                    : std::find_if(cuts.begin(), cuts.end(),
                                                   [](const Cut& c) { return c.shape(); });
        cuts.insert(at, cut);
    });
}

void CutSection::addShape(CutShape shape, bool round) {
    if (!session_.picture()) return;
    RealRect box = session_.picture()->crop;
    if (round) box = largestInside(box, 1, 1);
    ShapeCut cut;
    cut.shape = shape;
    cut.box = box;
    if (shape == CutShape::rounded) {
        cut.radiiAreShares = true;
        cut.radii.fill(12);
    }
    if (shape == CutShape::polygon)
        cut.points = {{box.centre().x, box.y},
                      {box.right(), box.centre().y},
                      {box.centre().x, box.bottom()},
                      {box.x, box.centre().y}};
    add({cut});
}

void CutSection::change(std::size_t index, const QString& what, const QString& mergeKey,
                        const std::function<void(Cut&)>& change) {
    editOne(what, mergeKey.isEmpty() ? mergeKey : QString("cut %1 %2").arg(index).arg(mergeKey),
            [&](PictureLayer& picture) {
                if (index < picture.cuts.size()) change(picture.cuts[index]);
            });
}

void CutSection::fillFrom(const PictureLayer& picture, const Layer& layer, const Piece&) {
    const auto& cuts = picture.cuts;
    if (layer.id != layerShown_ || shapeOf(cuts) != builtOf_) {
        layerShown_ = layer.id;
        builtOf_ = shapeOf(cuts);
        build(cuts);
    }
    for (std::size_t i = 0; i < cuts.size(); ++i) showCut(i, cuts[i]);
    const bool shaped = std::any_of(cuts.begin(), cuts.end(), changesShape);
    inside_->setVisible(shaped);
    if (!shaped && inside_->isChecked()) inside_->setChecked(false);
    subject_->setVisible(
        std::none_of(cuts.begin(), cuts.end(), [](const Cut& cut) { return cut.subject(); }));
    list_->setVisible(!cuts.empty());
    tidy_->setVisible(!cuts.empty());
    look(picture);
}

void CutSection::build(const std::vector<Cut>& cuts) {
    while (QLayoutItem* item = cards_->takeAt(0)) {
        item->widget()->hide();
        item->widget()->deleteLater();
        delete item;
    }
    shown_.clear();
    lookedAt_.clear();  // what was found is not told on these cards yet
    for (std::size_t i = 0; i < cuts.size(); ++i) {
        auto* card = new QWidget;
        Form form(card);
        Controls row;
        row.on =
            named(new QCheckBox(kindOf(cuts[i])), QString("cutOn-%1").arg(i).toUtf8().constData());
        row.on->setAccessibleName(tr("%1, cut %2").arg(kindOf(cuts[i])).arg(i + 1));
        connect(row.on, &QCheckBox::toggled, this, [this, i](bool on) {
            change(i, tr("Switch a cut"), {}, [on](Cut& c) { c.off = !on; });
        });
        auto* remove = iconButton("remove", QString("removeCut-%1").arg(i).toUtf8().constData(),
                                  tr("Remove cut %1").arg(i + 1));
        connect(remove, &QToolButton::clicked, this, [this, i] {
            editOne(tr("Remove a cut"), {}, [i](PictureLayer& picture) {
                auto& all = picture.cuts;
                if (i < all.size()) all.erase(all.begin() + static_cast<std::ptrdiff_t>(i));
            });
        });
        auto* head = new QWidget;
        auto* line = new QHBoxLayout(head);
        line->setContentsMargins(0, 0, 0, 0);
        line->addWidget(row.on, 1);
        line->addWidget(remove);
        form.wide(head);
        shown_.push_back(row);
        if (cuts[i].key()) buildKey(form, i);
        if (const ShapeCut* shape = cuts[i].shape()) buildShape(form, i, *shape);
        cards_->addWidget(card);
        card->show();
        if (!cuts[i].subject()) continue;
        card->layout()->setContentsMargins(16, 0, 16, 0);
        cards_->addWidget(buildSubject(i));
        shown_[i].subject->show();
    }
}

NumberField* CutSection::number(std::size_t i, const char* id, const QString& name,
                                const QString& unit, double low, double high, int decimals,
                                const std::function<void(Cut&, double)>& set) {
    auto* field = named(new NumberField(name, unit),
                        QString("cut-%1-%2").arg(i).arg(id).toUtf8().constData());
    field->setRange(low, high, decimals);
    hear(field, refusal_);
    connect(field, &NumberField::committed, this,
            [this, i, set, name](double v) { change(i, name, name, [&](Cut& c) { set(c, v); }); });
    shown_[i].numbers[id] = field;
    return field;
}

void CutSection::buildKey(Form& form, std::size_t i) {
    Controls& row = shown_[i];
    buildGround(form, i);
    row.reach = named(new QComboBox, QString("cutReach-%1").arg(i).toUtf8().constData());
    row.reach->addItems({tr("Linked to the rim"), tr("Everywhere, holes too")});
    row.reach->setAccessibleName(tr("How far the key reaches"));
    connect(row.reach, &QComboBox::activated, this, [this, i](int at) {
        change(i, tr("Reach"), {}, [at](Cut& c) { c.key()->everywhere = at == 1; });
    });
    form.row(tr("Reach"), row.reach);
    buildTolerance(form, i);
    row.shadow = named(new QComboBox, QString("cutShadow-%1").arg(i).toUtf8().constData());
    offer<KeyShadow>(row.shadow, {{tr("Stays, see-through"), KeyShadow::keep},
                                  {tr("Goes"), KeyShadow::drop},
                                  {tr("Is ink: look for none"), KeyShadow::off}});
    row.shadow->setAccessibleName(tr("What becomes of a soft shadow"));
    connect(row.shadow, &QComboBox::activated, this, [this, i, box = row.shadow] {
        change(i, tr("Shadow"), {},
               [shadow = chosenIn<KeyShadow>(box)](Cut& c) { c.key()->shadow = shadow; });
    });
    form.row(tr("Shadow"), row.shadow);
    buildBrush(form, i);
    row.note = named(softLabel({}), QString("cutNote-%1").arg(i).toUtf8().constData());
    row.note->setWordWrap(true);
    row.note->setFont(interfaceFont(11));
    form.wide(row.note);
    row.closed = named(new QPushButton, QString("cutClosed-%1").arg(i).toUtf8().constData());
    row.closed->setToolTip(tr("Reaches everywhere: the holes that ink closes in go, too"));
    row.closed->hide();
    connect(row.closed, &QPushButton::clicked, this,
            [this, i] { change(i, tr("Reach"), {}, [](Cut& c) { c.key()->everywhere = true; }); });
    form.wide(row.closed);
}

void CutSection::buildGround(Form& form, std::size_t i) {
    Controls& row = shown_[i];
    row.colour = named(new ColourField(tr("Background")),
                       QString("cutColour-%1").arg(i).toUtf8().constData());
    connect(row.colour, &ColourField::committed, this, [this, i](Colour colour) {
        change(i, tr("Key colour"), {}, [&](Cut& c) {
            c.key()->colour = Colour{colour.red, colour.green, colour.blue, 255};
        });
    });
    hear(row.colour, refusal_);
    form.row(tr("Ground"), row.colour);
    auto* pick =
        named(new QPushButton(tr("Pick")), QString("cutPick-%1").arg(i).toUtf8().constData());
    pick->setToolTip(tr("Click the background in the picture"));
    connect(pick, &QPushButton::clicked, this, [this, i] {
        Q_EMIT pickAsked([this, i](Colour colour, RealPoint at) {
            change(i, tr("Key colour"), {}, [&](Cut& c) {
                KeyCut* key = c.key();  // another layer may be chosen by now
                if (!key) return;
                key->colour = colour;
                key->from = at;
            });
        });
    });
    row.find = named(new QPushButton(tr("Find by itself")),
                     QString("cutFind-%1").arg(i).toUtf8().constData());
    connect(row.find, &QPushButton::clicked, this, [this, i] {
        change(i, tr("Key colour"), {}, [](Cut& c) {
            c.key()->colour.reset();
            c.key()->from.reset();
        });
    });
    form.row({}, sideBySide({pick, row.find}));
}

void CutSection::buildTolerance(Form& form, std::size_t i) {
    Controls& row = shown_[i];
    row.tolerance = named(new QSlider(Qt::Horizontal),
                          QString("cutToleranceSlider-%1").arg(i).toUtf8().constData());
    row.tolerance->setRange(0, 100);
    row.tolerance->setAccessibleName(tr("Tolerance"));
    connect(row.tolerance, &QSlider::valueChanged, this, [this, i](int v) {
        change(i, tr("Tolerance"), "tolerance", [v](Cut& c) {
            c.key()->tolerance = v > 0 ? std::optional<double>(v) : std::nullopt;
        });
    });
    auto* field = number(i, "tolerance", tr("Tolerance"), "", 0, 100, 1, [](Cut& c, double v) {
        c.key()->tolerance = v > 0 ? std::optional(v) : std::nullopt;
    });
    field->setWordsForZero(tr("auto"));
    field->setFixedWidth(52);
    field->setMinimumWidth(52);
    auto* pair = new QWidget;
    auto* line = new QHBoxLayout(pair);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(8);
    line->addWidget(row.tolerance, 1);
    line->addWidget(field);
    form.row(tr("Tolerance"), pair);
}

void CutSection::buildBrush(Form& form, std::size_t i) {
    Controls& row = shown_[i];
    const auto brush = [&](const char* id, const QString& words, const QString& tip,
                           bool restores) {
        auto* button =
            named(new QPushButton(words), QString("%1-%2").arg(id).arg(i).toUtf8().constData());
        button->setToolTip(tip);
        connect(button, &QPushButton::clicked, this, [this, i, restores] {
            Q_EMIT brushAsked(static_cast<int>(i), restores, brushSize_ / 2);
        });
        return button;
    };
    row.brush = named(new NumberField(tr("Brush"), tr("px")),
                      QString("cut-%1-brush").arg(i).toUtf8().constData());
    row.brush->setRange(1, 2000, 0);
    row.brush->setFixedWidth(58);
    row.brush->setMinimumWidth(58);
    row.brush->show(brushSize_);
    connect(row.brush, &NumberField::committed, this, [this, f = row.brush](double v) {
        brushSize_ = v;
        f->show(v);
    });
    form.row(tr("Brush"), sideBySide({row.brush, softLabel(tr("wide"))}));
    form.wide(
        sideBySide({brush("cutRestore", tr("Bring back"), tr("Paint over what should stay"), true),
                    brush("cutRemove", tr("Take away"), tr("Paint over what should go"), false)}));
    row.strokes = named(new QPushButton, QString("cutStrokes-%1").arg(i).toUtf8().constData());
    row.strokes->setToolTip(tr("Takes the last stroke back; the strokes before it stay"));
    connect(row.strokes, &QPushButton::clicked, this, [this, i] {
        change(i, tr("Remove a stroke"), {}, [](Cut& c) {
            if (!c.key()->strokes.empty()) c.key()->strokes.pop_back();
        });
    });
    form.wide(row.strokes);
}

void CutSection::buildShape(Form& form, std::size_t i, const ShapeCut& shape) {
    Controls& row = shown_[i];
    if (shape.shape != CutShape::polygon) {
        buildBox(form, i);
    }
    if (shape.shape == CutShape::ellipse) {
        row.held = named(new QCheckBox(tr("Circle held")),
                         QString("cutHeld-%1").arg(i).toUtf8().constData());
        row.held->setChecked(std::abs(shape.box.width - shape.box.height) < 1e-6);
        form.wide(row.held);
    }
    if (shape.shape == CutShape::rounded) {
        buildCorners(form, i);
    }
    form.row(tr("Feather"), number(i, "feather", tr("Feather"), tr("px"), 0, 2000, 1,
                                   [](Cut& c, double v) { c.shape()->feather = v; }));
    row.inverted = named(new QCheckBox(tr("Take the inside away")),
                         QString("cutInverted-%1").arg(i).toUtf8().constData());
    connect(row.inverted, &QCheckBox::toggled, this, [this, i](bool on) {
        change(i, tr("Invert"), {}, [on](Cut& c) { c.shape()->inverted = on; });
    });
    form.wide(row.inverted);
    auto* place =
        named(new QPushButton(shape.shape == CutShape::polygon ? tr("Draw on the picture")
                                                               : tr("Place on the picture")),
              QString("cutPlace-%1").arg(i).toUtf8().constData());
    connect(place, &QPushButton::clicked, this,
            [this, i] { Q_EMIT placeAsked(static_cast<int>(i)); });
    form.wide(place);
}

void CutSection::buildBox(Form& form, std::size_t i) {
    const auto held = [this, i](Cut& c, bool wide, double v) {
        RealRect& b = c.shape()->box;
        const bool circle =
            c.shape()->shape == CutShape::ellipse && shown_[i].held && shown_[i].held->isChecked();
        if (wide || circle) b.width = v;
        if (!wide || circle) b.height = v;
    };
    form.row(tr("Left, top"),
             number(i, "left", tr("Cut, left"), tr("px"), -100'000, 100'000, 2,
                    [](Cut& c, double v) { c.shape()->box.x = v; }),
             number(i, "top", tr("Cut, top"), tr("px"), -100'000, 100'000, 2,
                    [](Cut& c, double v) { c.shape()->box.y = v; }));
    form.row(tr("Size"),
             number(i, "width", tr("Cut, width"), tr("px"), 0.01, 100'000, 2,
                    [held](Cut& c, double v) { held(c, true, v); }),
             number(i, "height", tr("Cut, height"), tr("px"), 0.01, 100'000, 2,
                    [held](Cut& c, double v) { held(c, false, v); }));
}

void CutSection::buildCorners(Form& form, std::size_t i) {
    Controls& row = shown_[i];
    row.unit = named(new QComboBox, QString("cutUnit-%1").arg(i).toUtf8().constData());
    row.unit->addItems({tr("px"), tr("% of the shorter side")});
    row.unit->setAccessibleName(tr("Unit of the radii"));
    connect(row.unit, &QComboBox::activated, this, [this, i](int at) {
        change(i, tr("Unit of the radii"), {}, [at](Cut& c) {
            ShapeCut& s = *c.shape();
            if (s.radiiAreShares == (at == 1)) return;
            const double shorter = std::max(1e-9, std::min(s.box.width, s.box.height));
            for (double& r : s.radii)
                r = at == 1 ? std::min(50.0, 100 * r / shorter) : r / 100 * shorter;
            s.radiiAreShares = at == 1;
        });
    });
    form.row(tr("Radii in"), row.unit);
    const QString names[] = {tr("Top left"), tr("Top right"), tr("Bottom right"),
                             tr("Bottom left")};
    NumberField* fields[4];
    for (std::size_t k = 0; k < 4; ++k)
        fields[k] =
            number(i, (std::string("radius") + static_cast<char>('0' + k)).c_str(), names[k], "", 0,
                   100'000, 2, [k](Cut& c, double v) { c.shape()->radii[k] = v; });
    auto* all = number(i, "radius", tr("All corners"), "", 0, 100'000, 2,
                       [](Cut& c, double v) { c.shape()->radii.fill(v); });
    form.row(tr("All corners"), all);
    form.row(tr("Upper two"), fields[0], fields[1]);
    form.row(tr("Lower two"), fields[3], fields[2]);
}

QWidget* CutSection::buildSubject(std::size_t i) {
    auto* card = new SubjectCard(
        session_, i, [this, i](const QString& what, const std::function<void(Cut&)>& how) {
            change(i, what, {}, how);
        });
    connect(card, &SubjectCard::brushAsked, this, [this, i](bool restores, double radius) {
        Q_EMIT brushAsked(static_cast<int>(i), restores, radius);
    });
    connect(card, &SubjectCard::boxAsked, this,
            [this, i] { Q_EMIT subjectBoxAsked(static_cast<int>(i)); });
    return shown_[i].subject = card;
}

void CutSection::showCut(std::size_t i, const Cut& cut) {
    Controls& row = shown_[i];
    row.on->setChecked(!cut.off);
    row.on->setText(kindOf(cut));
    if (const KeyCut* key = cut.key()) {
        row.find->setEnabled(key->colour.has_value());
        if (key->colour) row.colour->show(*key->colour);
        row.reach->setCurrentIndex(key->everywhere ? 1 : 0);
        row.reach->setItemText(0, key->from ? tr("Linked to the point") : tr("Linked to the rim"));
        row.tolerance->setValue(static_cast<int>(std::lround(key->tolerance.value_or(0))));
        row.numbers["tolerance"]->show(key->tolerance.value_or(0));
        choose(row.shadow, key->shadow);
        row.strokes->setVisible(!key->strokes.empty());
        row.strokes->setText(
            tr("Take the last of %n stroke(s) back", nullptr, static_cast<int>(key->strokes.size()))
                .replace("(s)", key->strokes.size() == 1 ? "" : "s"));
    }
    if (const SubjectCut* subject = cut.subject()) row.subject->fill(*subject);
    if (const ShapeCut* shape = cut.shape()) {
        const std::pair<const char*, double> values[] = {
            {"left", shape->box.x},       {"top", shape->box.y},
            {"width", shape->box.width},  {"height", shape->box.height},
            {"feather", shape->feather},  {"radius0", shape->radii[0]},
            {"radius1", shape->radii[1]}, {"radius2", shape->radii[2]},
            {"radius3", shape->radii[3]}, {"radius", shape->radii[0]}};
        for (const auto& [id, value] : values)
            if (const auto found = row.numbers.find(id); found != row.numbers.end())
                found->second->show(value);
        if (row.unit) row.unit->setCurrentIndex(shape->radiiAreShares ? 1 : 0);
        row.inverted->setChecked(shape->inverted);
    }
}

// What a key found, looked up aside: its colour, how sure, the tolerance it measured, and why it
// cannot work.
void CutSection::look(const PictureLayer& picture) {
    const Asset* asset = session_.kit().asset(picture.source);
    if (!asset || std::none_of(picture.cuts.begin(), picture.cuts.end(),
                               [](const Cut& c) { return c.key(); }))
        return;
    if (lookedAt_ == picture.cuts && lookedSource_ == picture.source) return;
    if (lookedSource_ != picture.source)  // cards that are kept tell of another picture
        for (const Controls& row : shown_)
            if (row.note) {
                row.note->clear();
                row.closed->hide();
            }
    lookedAt_ = picture.cuts;
    lookedSource_ = picture.source;
    looking_.post([this, inks = session_.inks(), asset = *asset,
                   cuts = picture.cuts](const std::stop_token& stop) {
        struct Found {
            std::size_t index;
            KeyReport report;
        };
        std::vector<Found> found;
        for (std::size_t i = 0; i < cuts.size(); ++i) {
            if (!cuts[i].key() || stop.stop_requested()) continue;
            if (auto report = inks->keyReport(asset, cuts, i, stop))
                found.push_back({i, std::move(*report)});
        }
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(
            this,
            [this, found, cuts, source = asset.sha256] {
                const PictureLayer* now = session_.picture();
                if (!now || now->cuts != cuts || now->source != source) return;
                for (const Found& f : found)
                    if (f.index < shown_.size() && shown_[f.index].note)
                        tellFound(shown_[f.index], f.report, *cuts[f.index].key());
            },
            Qt::QueuedConnection);
    });
}

void CutSection::tellFound(Controls& row, const KeyReport& report, const KeyCut& key) {
    const KeyPlan& plan = report.plan;
    const Colour ground = Background{plan.background, plan.share}.rounded();
    if (!key.colour) row.colour->show(ground);
    QString note = key.colour
                       ? tr("Your colour")
                       : tr("Found on %1 % of the border").arg(std::lround(100 * plan.share));
    if (plan.ground)
        note += tr(" · it drifts by %1, grain %2, tolerance %3")
                    .arg(std::lround(plan.ground->span))
                    .arg(plan.ground->grain, 0, 'f', 1)
                    .arg(std::lround(plan.noise.tolerance));
    else if (!key.tolerance)
        note += plan.noise.lossy
                    ? tr(" · a JPEG's noise, tolerance %1").arg(std::lround(plan.noise.tolerance))
                    : tr(" · no noise, tolerance %1").arg(std::lround(plan.noise.tolerance));
    for (const Message& told : notesOf(report, key))
        if (!told.id.starts_with("key.closed"))  // the button below tells of closed areas
            note += '\n' + QString::fromStdString(english(told));
    row.note->setText(report.trouble ? QString::fromStdString(english(*report.trouble)) : note);
    row.closed->setVisible(report.closed > 0 && !key.everywhere);
    row.closed->setText(report.closed == 1 ? tr("Take one closed area, too")
                                           : tr("Take %1 closed areas, too").arg(report.closed));
}

}  // namespace zl::app
