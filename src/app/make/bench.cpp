// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/bench.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScopedValueRollback>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include "edit/edits.h"
#include "kit/layer_kinds.h"
#include "kit/moving.h"
#include "layout/lay_out.h"
#include "lettering/lettering.h"
#include "look/theme.h"
#include "make/canvas/tools/picture_tool.h"
#include "make/sections/sections.h"
#include "mend/mend.h"
#include "picture/attention.h"
#include "raster/ink_box.h"
#include "work/jobs.h"

namespace zl::app {
Bench::Bench(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("bench");
    setAttribute(Qt::WA_StyledBackground);
    setFixedWidth(benchWidth);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(1, 0, 0, 0);
    outer->setSpacing(0);

    buildHead(outer);
    layers_ = new LayerList(session_);
    layers_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    outer->addWidget(layers_);
    buildStackButtons(outer);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    auto* content = new QWidget;
    auto* column = new QVBoxLayout(content);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    buildSections(column);
    listenToSections();
    column->addStretch();
    scroll->setWidget(content);
    outer->addWidget(scroll, 1);

    connect(&session_, &Session::kitChanged, this, &Bench::refresh);
    connect(&session_, &Session::chosen, this, &Bench::refresh);
    refresh();
}

void Bench::buildHead(QVBoxLayout* outer) {
    auto* head = new QHBoxLayout;
    head->setContentsMargins(16, 0, 10, 0);
    auto* title = new QLabel(tr("Layers"));
    title->setFont(interfaceFont(12, 600));
    title->setFixedHeight(36);
    head->addWidget(title);
    head->addStretch();
    auto* add = named(new QPushButton(tr("+ Add")), "addLayer");
    add->setMenu(buildAddMenu(add));
    head->addWidget(add);
    outer->addLayout(head);
}

QMenu* Bench::buildAddMenu(QWidget* parent) {
    auto* menu = new QMenu(parent);
    menu->addAction(lineIcon("picture"), tr("Picture …"), this, &Bench::pictureAsked)
        ->setObjectName("addPicture");
    menu->addAction(tr("Still from a video …"), this, &Bench::stillAsked)
        ->setObjectName("addStill");
    menu->addAction(lineIcon("clip"), tr("Clip from a video …"), this, &Bench::newClipAsked)
        ->setObjectName("addClip");
    menu->addAction(lineIcon("lettering"), tr("Lettering"), this, &Bench::letteringAsked)
        ->setObjectName("addLettering");
    QMenu* bars = menu->addMenu(lineIcon("bar"), tr("Bar"));
    const std::pair<const char*, QString> shapes[] = {
        {"addRectangle", tr("Rectangle")}, {"addRounded", tr("Rounded rectangle")},
        {"addEllipse", tr("Ellipse")},     {"addRing", tr("Ring")},
        {"addLine", tr("Line")},           {"addArrow", tr("Arrow")}};
    for (int i = 0; i < 6; ++i)
        bars->addAction(shapes[i].second, this, [this, i] { Q_EMIT barAsked(i); })
            ->setObjectName(shapes[i].first);
    QMenu* boxes = menu->addMenu(tr("For an overlay"));
    const std::pair<const char*, QString> kinds[] = {{"addCameraBox", tr("Camera box")},
                                                     {"addChatBox", tr("Chat box")},
                                                     {"addLinkList", tr("List of links")}};
    for (int i = 0; i < 3; ++i)
        boxes->addAction(kinds[i].second, this, [this, i] { Q_EMIT boxAsked(i); })
            ->setObjectName(kinds[i].first);
    menu->addAction(lineIcon("reference"), tr("Reference, not released …"), this,
                    &Bench::referenceAsked)
        ->setObjectName("addReference");
    menu->addSeparator();
    menu->addAction(tr("Font file …"), this, &Bench::fontAsked)->setObjectName("addFont");
    return menu;
}

void Bench::buildStackButtons(QVBoxLayout* outer) {
    auto* tools = new QHBoxLayout;
    tools->setContentsMargins(12, 2, 12, 6);
    tools->setSpacing(4);
    const auto tool = [&](const char* icon, const char* objectName, const QString& name,
                          auto action) {
        auto* button = named(new QToolButton, objectName);
        button->setIcon(lineIcon(icon));
        button->setIconSize({18, 18});
        button->setAccessibleName(name);
        button->setToolTip(name);
        connect(button, &QToolButton::clicked, this, action);
        tools->addWidget(button);
        stackButtons_.push_back(button);
    };
    tool("raise", "raiseLayer", tr("Raise the layer (Ctrl+Up)"), [this] { layers_->raise(1); });
    tool("lower", "lowerLayer", tr("Lower the layer (Ctrl+Down)"), [this] { layers_->raise(-1); });
    tool("double", "doubleLayer", tr("Duplicate the layer (Ctrl+D)"),
         [this] { layers_->doubleChosen(); });
    tool("remove", "removeLayer", tr("Delete the layer (Delete)"),
         [this] { layers_->removeChosen(); });
    tools->addStretch();
    outer->addLayout(tools);
}

void Bench::buildSections(QVBoxLayout* column) {
    column->addWidget(place_ = section(tr("Place"), makePlace()));
    for (Section* one : std::initializer_list<Section*>{clip_ = new ClipSection(session_),
                        new TimeSection(session_)}) {
        sections_.push_back(one);
        column->addWidget(one);
    }
    letters_ = new LettersSection(session_);
    cut_ = new CutSection(session_);
    tone_ = new ToneSection(session_);
    for (Section* one : std::initializer_list<Section*>{letters_, new BarSection(session_)}) {
        sections_.push_back(one);
        column->addWidget(one);
    }
    column->addWidget(crop_ = section(tr("Crop"), makeCrop()));
    for (Section* one : std::initializer_list<Section*>{cut_, tone_, new FinishSection(session_),
                                                        new ArrangeSection(session_)}) {
        sections_.push_back(one);
        column->addWidget(one);
    }
    column->addWidget(piece_ = section(tr("Piece"), makePiece()));
    auto* regions = new RegionSection(session_);
    connect(regions, &RegionSection::drawAsked, this, &Bench::drawAsked);
    for (Section* one : std::initializer_list<Section*>{regions, new GuideSection(session_)}) {
        sections_.push_back(one);
        column->addWidget(one);
    }
}

void Bench::clipFound(const QString& file) {
    clip_->found(file);
}

void Bench::listenToSections() {
    connect(clip_, &ClipSection::findAsked, this, &Bench::clipAsked);
    connect(tone_, &ToneSection::beforeAsked, this, &Bench::beforeAsked);
    connect(tone_, &ToneSection::placeVeilAsked, this,
            [this](int i) { Q_EMIT toolAsked([i](PictureTool& hand) { hand.placeVeil(i); }); });
    connect(cut_, &CutSection::insideAsked, this, &Bench::insideAsked);
    connect(cut_, &CutSection::trimAsked, this, &Bench::trimAsked);
    connect(cut_, &CutSection::placeAsked, this,
            [this](int i) { Q_EMIT toolAsked([i](PictureTool& hand) { hand.placeCut(i); }); });
    connect(cut_, &CutSection::brushAsked, this, [this](int i, bool restores, double radius) {
        Q_EMIT toolAsked([=](PictureTool& hand) { hand.brush(i, restores, radius); });
    });
    connect(cut_, &CutSection::subjectBoxAsked, this,
            [this](int i) { Q_EMIT toolAsked([i](PictureTool& hand) { hand.boxSubject(i); }); });
    connect(cut_, &CutSection::pickAsked, this,
            [this](const std::function<void(Colour, RealPoint)>& picked) {
                Q_EMIT toolAsked([picked](PictureTool& hand) { hand.pick(picked); });
            });
}

QWidget* Bench::section(const QString& title, QWidget* content) {
    auto* whole = new QWidget;
    dressAsSection(whole, title, content);
    return whole;
}

// The chosen layer, changed by `change(Layer&)`, as one edit.
template <class Change>
void Bench::edit(const QString& what, const QString& mergeKey, const Change& change) {
    const Layer* layer = session_.layer();
    if (!layer || filling_) return;
    Layer next = *layer;
    change(next);
    session_.apply(withChangedLayer(session_.kit(), session_.piece()->id, next), what,
                   mergeKey.isEmpty() ? mergeKey : QString("%1 %2").arg(mergeKey).arg(layer->id));
}

QWidget* Bench::makePlace() {
    auto* widget = new QWidget;
    Form form(widget);
    left_ = named(new NumberField(tr("Left"), tr("px")), "left");
    top_ = named(new NumberField(tr("Top"), tr("px")), "top");
    form.row(tr("Left, top"), left_, top_);
    width_ = named(new NumberField(tr("Width"), tr("px")), "width");
    height_ = named(new NumberField(tr("Height"), tr("px")), "height");
    for (NumberField* field : {left_, top_}) field->setRange(-100'000, 100'000, 1);
    for (NumberField* field : {width_, height_}) field->setRange(1, 20'000, 1);
    form.row(tr("Size"), width_, height_);
    opacity_ = named(new NumberField(tr("Opacity"), "%"), "opacity");
    opacity_->setRange(0, 100, 1);
    keepShape_ = named(new QToolButton, "keepShape");
    keepShape_->setText(tr("Shape held"));
    keepShape_->setCheckable(true);
    keepShape_->setChecked(true);
    keepShape_->setToolTip(tr("Width and height change together; switch off to change one alone"));
    connect(keepShape_, &QToolButton::toggled, this,
            [this](bool on) { keepShape_->setText(on ? tr("Shape held") : tr("Shape free")); });
    auto* fill = named(new QPushButton(tr("Fill the frame")), "fillFrame");
    fill->setToolTip(tr("As large as needed to cover the frame, without stretching"));
    form.row(tr("Opacity"), opacity_);
    auto* both = new QWidget;
    auto* pair = new QHBoxLayout(both);
    pair->setContentsMargins(0, 0, 0, 0);
    pair->setSpacing(8);
    keepShape_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    keepShape_->setFixedHeight(28);
    pair->addWidget(keepShape_, 1);
    pair->addWidget(fill, 1);
    form.wide(both);
    form.wide(placeRefusal_ = refusalLine());
    for (NumberField* field : {left_, top_, width_, height_, opacity_}) hear(field, placeRefusal_);

    listenToPlace();
    connect(fill, &QPushButton::clicked, this, [this] {
        edit(tr("Fill the frame"), {},
             [this](Layer& layer) { layer = filling(layer, session_.piece()->frame); });
    });
    return widget;
}

void Bench::listenToPlace() {
    const auto shift = [this](bool across, double value) {
        if (!session_.layer() || filling_) return;
        const RealRect box = boxOf(*session_.layer());
        session_.moveChosen(across ? value - box.x : 0, across ? 0 : value - box.y, tr("Move"), {});
    };
    connect(left_, &NumberField::committed, this, [shift](double v) { shift(true, v); });
    connect(top_, &NumberField::committed, this, [shift](double v) { shift(false, v); });
    const auto size = [this](bool across, double value) {
        edit(tr("Scale"), {}, [&](Layer& layer) {
            const RealRect box = boxOf(layer);
            const double factor = value / (across ? box.width : box.height);
            const bool held = keepShape_->isChecked() || kindOf(layer).keepsShape;
            layer = scaled(layer, held || across ? factor : 1, held || !across ? factor : 1,
                           {box.x, box.y});
        });
    };
    connect(width_, &NumberField::committed, this, [size](double v) { size(true, v); });
    connect(height_, &NumberField::committed, this, [size](double v) { size(false, v); });
    connect(opacity_, &NumberField::committed, this, [this](double v) {
        edit(tr("Opacity"), "opacity", [v](Layer& layer) { layer.opacity = v / 100; });
    });
}

std::optional<PixelSize> Bench::originalSize() const {
    const Layer* layer = session_.layer();
    const Asset* asset = layer ? assetOf(*layer, session_.kit()) : nullptr;
    const auto facts =
        asset ? session_.inks()->facts(*asset) : Result<PictureFacts>(fail(Code::unreadable, ""));
    return facts ? std::optional(facts->size) : std::nullopt;
}

QWidget* Bench::makeCrop() {
    auto* widget = new QWidget;
    Form form(widget);
    cropLeft_ = named(new NumberField(tr("Crop, left"), tr("px")), "cropLeft");
    cropTop_ = named(new NumberField(tr("Crop, top"), tr("px")), "cropTop");
    cropWidth_ = named(new NumberField(tr("Crop, width"), tr("px")), "cropWidth");
    cropHeight_ = named(new NumberField(tr("Crop, height"), tr("px")), "cropHeight");
    for (NumberField* field : {cropLeft_, cropTop_}) field->setRange(0, 100'000, 2);
    for (NumberField* field : {cropWidth_, cropHeight_}) field->setRange(1, 100'000, 2);
    form.row(tr("Left, top"), cropLeft_, cropTop_);
    form.row(tr("Size"), cropWidth_, cropHeight_);
    cropAbout_ = new QLabel;
    cropAbout_->setProperty("soft", true);
    cropAbout_->setWordWrap(true);
    form.wide(cropAbout_);
    cropOnCanvas_ = named(new QPushButton(tr("Crop on the picture")), "cropOnPicture");
    cropOnCanvas_->setCheckable(true);
    form.wide(cropOnCanvas_);
    auto* centre = named(new QPushButton(tr("Centre on what matters")), "cropCentre");
    centre->setToolTip(tr("Moves the crop to where the eye goes first"));
    form.wide(centre);
    form.wide(cropRefusal_ = refusalLine());
    for (NumberField* field : {cropLeft_, cropTop_, cropWidth_, cropHeight_})
        hear(field, cropRefusal_);
    // What was typed is kept as typed, or refused beside the field: never bent.
    const auto change = [this](NumberField* field, auto set) {
        connect(field, &NumberField::committed, this, [this, field, set](double v) {
            const auto original = originalSize();
            if (!original) return;
            RealRect crop = session_.picture()->crop;
            set(crop, v);
            if (const auto good = checkCrop(crop, *original); !good)
                return field->refuse(v, QString::fromStdString(good.error().sentence()));
            edit(tr("Crop"), {}, [&](Layer& l) { l = cropped(l, crop); });
        });
    };
    change(cropLeft_, [](RealRect& c, double v) { c.x = v; });
    change(cropTop_, [](RealRect& c, double v) { c.y = v; });
    change(cropWidth_, [this](RealRect& c, double v) {
        if (keepShape_->isChecked()) c.height *= v / c.width;
        c.width = v;
    });
    change(cropHeight_, [this](RealRect& c, double v) {
        if (keepShape_->isChecked()) c.width *= v / c.height;
        c.height = v;
    });
    connect(cropOnCanvas_, &QPushButton::clicked, this, &Bench::cropAsked);
    connect(centre, &QPushButton::clicked, this, &Bench::centreCrop);
    return widget;
}

void Bench::editText() {
    letters_->editText();
}

void Bench::setCropping(bool on) {
    cropOnCanvas_->setChecked(on);
    cropOnCanvas_->setText(on ? tr("End the crop") : tr("Crop on the picture"));
}

// The largest part of the original in the crop's shape, placed round the point of attention.
void Bench::centreCrop() {
    const Layer* layer = session_.layer();
    const Asset* asset = layer ? assetOf(*layer, session_.kit()) : nullptr;
    if (!asset) return;
    aside(
        session_.jobs(), this,
        [inks = session_.inks(), asset = *asset, shown = *session_.picture(),
         frame = session_.piece()->frame]() -> Result<std::pair<RealPoint, PixelSize>> {
            // What was cut out is what matters.
            const auto picture =
                shown.showsSubject() ? inks->cutPicture(asset, shown.cuts) : inks->picture(asset);
            if (!picture) return passOn(picture.error());
            const RealRect& crop = shown.crop;
            const PixelSize size = (*picture)->pixels->size();
            const bool all = crop.width >= size.width - 1e-6 && crop.height >= size.height - 1e-6;
            const double wide = all ? frame.width : crop.width,
                         high = all ? frame.height : crop.height;
            constexpr int half = 128;
            const auto subject = shown.showsSubject() ? inkBoxOf(*(*picture)->pixels, half)
                                                      : std::optional<PixelRect>();
            const RealRect box = subject
                                     ? cropKeeping(RealRect::ofPixels(*subject), size, wide, high)
                                     : attentiveCrop(*(*picture)->pixels, wide, high);
            return std::pair(RealPoint{box.centre().x / size.width, box.centre().y / size.height},
                             size);
        },
        [this, id = layer->id](Result<std::pair<RealPoint, PixelSize>> found) {
            if (!found)
                return session_.tell(QString::fromStdString(found.error().sentence()), true);
            if (!session_.layer() || session_.layer()->id != id) return;
            edit(tr("Centre the crop"), {}, [&](Layer& l) {
                PictureLayer& p = *l.picture();
                RealRect all = RealRect::of(found->second);
                RealRect crop = p.crop;
                // Where nothing is cropped away yet, the frame's own shape is what is looked for.
                if (crop.width >= all.width - 1e-6 && crop.height >= all.height - 1e-6) {
                    const RealRect frame = RealRect::of(session_.piece()->frame);
                    p.place = frame;
                    crop = largestInside(all, frame.width, frame.height, found->first);
                } else {
                    crop.x = std::clamp(found->first.x * all.width - crop.width / 2, 0.0,
                                        all.width - crop.width);
                    crop.y = std::clamp(found->first.y * all.height - crop.height / 2, 0.0,
                                        all.height - crop.height);
                }
                p = cropped(p, crop);
            });
        });
}

QWidget* Bench::makePiece() {
    auto* widget = new QWidget;
    Form form(widget);
    pieceTitle_ = named(new QLineEdit, "pieceTitle");
    pieceTitle_->setAccessibleName(tr("Title of the piece"));
    form.row(tr("Title"), pieceTitle_);
    pieceBrief_ = named(new QLabel, "pieceBrief");
    form.row(tr("Brief"), pieceBrief_);
    frameWidth_ = named(new NumberField(tr("Frame width"), tr("px")), "frameWidth");
    frameHeight_ = named(new NumberField(tr("Frame height"), tr("px")), "frameHeight");
    for (NumberField* field : {frameWidth_, frameHeight_}) field->setRange(1, 20'000, 0);
    form.row(tr("Frame"), frameWidth_, frameHeight_);
    pieceLength_ = named(new NumberField(tr("Length of the piece"), tr("s")), "pieceSeconds");
    pieceLength_->setRange(0, longestPiece, 2);
    pieceLength_->setToolTip(
        tr("0: as long as its clips are shown. A piece with a length may have "
           "layers that come and go"));
    pieceLengthWord_ = form.row(tr("Length"), pieceLength_);
    pieceAbout_ = new QLabel;
    pieceAbout_->setProperty("soft", true);
    pieceAbout_->setWordWrap(true);
    form.wide(pieceAbout_);
    form.wide(pieceRefusal_ = refusalLine());
    for (NumberField* field : {frameWidth_, frameHeight_, pieceLength_}) hear(field, pieceRefusal_);
    const auto change = [this](const QString& what, auto set) {
        if (!session_.piece() || filling_) return;
        Piece next = *session_.piece();
        set(next);
        session_.apply(withChangedPiece(session_.kit(), next), what);
    };
    connect(pieceTitle_, &QLineEdit::editingFinished, this, [=, this] {
        change(tr("Rename piece"),
               [this](Piece& p) { p.title = pieceTitle_->text().trimmed().toStdString(); });
        refresh();
    });
    connect(frameWidth_, &NumberField::committed, this, [=](double v) {
        change(tr("Frame"), [v](Piece& p) { p.frame.width = static_cast<int>(v); });
    });
    connect(frameHeight_, &NumberField::committed, this, [=](double v) {
        change(tr("Frame"), [v](Piece& p) { p.frame.height = static_cast<int>(v); });
    });
    connect(pieceLength_, &NumberField::committed, this,
            [=](double v) { change(tr("Length"), [v](Piece& p) { p.length = v; }); });
    return widget;
}

void Bench::refresh() {
    const QScopedValueRollback<bool> guard(filling_, true);
    const Piece* piece = session_.piece();
    const Layer* layer = session_.layer();
    place_->setVisible(layer);
    crop_->setVisible(session_.picture());
    piece_->setVisible(piece && !layer);
    for (Section* one : sections_) one->refresh();
    for (QToolButton* button : stackButtons_) button->setEnabled(layer);
    findChild<QPushButton*>("addLayer")->setEnabled(piece);
    if (piece && !layer) {
        if (!pieceTitle_->hasFocus() || !pieceTitle_->isModified())
            pieceTitle_->setText(QString::fromStdString(piece->title));
        const Brief* brief = session_.brief();
        pieceBrief_->setText(brief ? QString::fromStdString(brief->title)
                                   : tr("%1 (not here)").arg(QString::fromStdString(piece->brief)));
        pieceAbout_->setText(brief ? QString::fromStdString(brief->about) : QString());
        frameWidth_->show(piece->frame.width);
        frameHeight_->show(piece->frame.height);
        const bool may = moves(*piece) || (brief && !brief->moving.formats.empty());
        pieceLength_->setVisible(may);
        pieceLengthWord_->setVisible(may);
        pieceLength_->show(piece->length > 0 ? piece->length : lengthOf(*piece));
    }
    if (!layer) return;
    const RealRect box = boxOf(*layer);
    left_->show(box.x);
    top_->show(box.y);
    width_->show(box.width);
    height_->show(box.height);
    opacity_->show(layer->opacity * 100);
    keepShape_->setEnabled(!kindOf(*layer).keepsShape);
    if (const PictureLayer* picture = session_.picture()) {
        cropLeft_->show(picture->crop.x);
        cropTop_->show(picture->crop.y);
        cropWidth_->show(picture->crop.width);
        cropHeight_->show(picture->crop.height);
        if (const auto original = originalSize())
            cropAbout_->setText((isDrawnToSize(*picture, *assetOf(*layer, session_.kit()))
                                     ? tr("SVG of %1 × %2 px, drawn at %3 ×")
                                     : tr("of %1 × %2 px, shown at %3 ×"))
                                    .arg(original->width)
                                    .arg(original->height)
                                    .arg(picture->place.width / picture->crop.width, 0, 'f', 2));
    }
}

}  // namespace zl::app
