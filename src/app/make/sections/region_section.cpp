// SPDX-License-Identifier: GPL-3.0-or-later
#include <QComboBox>
#include <QLayout>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>

#include "edit/edits.h"
#include "links/links.h"
#include "make/sections/sections.h"
#include "work/region_edits.h"

namespace zl::app {

RegionSection::RegionSection(Session& session) : Section(session, tr("Links and slices")) {
    Form form(body());
    auto* draw = named(new QPushButton(tr("Draw a link region")), "drawLink");
    QToolButton* slice =
        menuButton(tr("Slice  ▾"), "addSlice",
                   tr("A part of the frame that is released as a file of its own"));
    auto* menu = new QMenu(slice);
    menu->addAction(tr("Draw one"), this,
                    [this] { Q_EMIT drawAsked([this](PixelRect r) { addSlice(session_, r); }); })
        ->setObjectName("drawSlice");
    menu->addAction(tr("Header strip, 970 × 150 under 22 px"), this,
                    [this] { addHeaderStrip(session_); })
        ->setObjectName("headerStrip");
    slice->setMenu(menu);
    form.wide(sideBySide({draw, slice}));
    list_ = named(new QComboBox, "regionList");
    list_->setAccessibleName(tr("Link region or slice"));
    fields_ = new QWidget;
    Form inner(fields_);
    fields_->layout()->setContentsMargins(0, 0, 0, 0);
    inner.row(tr("Region"), list_);
    address_ = named(new QLineEdit, "linkAddress");
    address_->setPlaceholderText("https://");
    address_->setAccessibleName(tr("Where the link region leads"));
    inner.row(tr("Leads to"), address_);
    says_ = named(new QLineEdit, "linkSays");
    says_->setAccessibleName(tr("Name of the region"));
    inner.row(tr("Name"), says_);
    const std::tuple<QString, const char*> sides[] = {{tr("Left"), "regionLeft"},
                                                      {tr("Top"), "regionTop"},
                                                      {tr("Width"), "regionWidth"},
                                                      {tr("Height"), "regionHeight"}};
    for (int i = 0; i < 4; ++i) {
        const auto& [name, objectName] = sides[i];
        sides_[i] = named(new NumberField(name, tr("px")), objectName);
        sides_[i]->setRange(i < 2 ? -20'000 : 1, 20'000, 0);
        connect(sides_[i], &NumberField::committed, this,
                [this, i](double value) { setPlace(i, value); });
    }
    inner.row(tr("At"), sides_[0], sides_[1]);
    inner.row(tr("Size"), sides_[2], sides_[3]);
    remove_ = named(new QPushButton(tr("Take it away")), "removeRegion");
    inner.wide(remove_);
    form.wide(fields_);
    refusal_ = refusalLine();
    form.wide(refusal_);
    for (NumberField* side : sides_) hear(side, refusal_);
    connect(draw, &QPushButton::clicked, this,
            [this] { Q_EMIT drawAsked([this](PixelRect r) { addLink(session_, r); }); });
    listen();
}

void RegionSection::listen() {
    connect(list_, &QComboBox::activated, this, [this] {
        refusal_->hide();
        fill(*session_.piece(), nullptr);
    });
    connect(remove_, &QPushButton::clicked, this, &RegionSection::remove);
    connect(address_, &QLineEdit::editingFinished, this, [this] {
        if (filling() || !session_.piece() || !isLink()) return;
        const std::string typed = address_->text().trimmed().toStdString();
        if (typed == session_.piece()->links[chosen()].address) return;
        // A bare host gets its scheme; script is refused and stays typed.
        const std::string address =
            checkAddress(typed) || !checkAddress("https://" + typed) ? typed : "https://" + typed;
        const auto good = checkAddress(address);
        refusal_->setVisible(!good);
        if (!good) return refusal_->setText(QString::fromStdString(good.error().sentence()));
        change(tr("Where it leads"), {},
               [&](Piece& piece) { piece.links[chosen()].address = address; });
    });
    connect(says_, &QLineEdit::editingFinished, this, [this] {
        if (filling() || !session_.piece()) return;
        const std::string typed = cutToFit(says_->text().trimmed().toStdString());
        change(tr("Name a region"), {}, [&](Piece& piece) {
            if (isLink())
                piece.links[chosen()].says = typed;
            else
                piece.slices[chosen()].name = fileNameFromTitle(typed);
        });
    });
}

bool RegionSection::isFor(const Piece& piece, const Layer* layer) const {
    const Brief* brief = session_.brief();
    return !layer &&
           (!piece.links.empty() || !piece.slices.empty() || (brief && brief->takesLinks));
}

bool RegionSection::isLink() const {
    return list_->currentIndex() < static_cast<int>(session_.piece()->links.size());
}

std::size_t RegionSection::chosen() const {
    const auto at = static_cast<std::size_t>(std::max(0, list_->currentIndex()));
    return isLink() ? at : at - session_.piece()->links.size();
}

void RegionSection::change(const QString& what, const QString& mergeKey,
                           const std::function<void(Piece&)>& edit) {
    Piece next = *session_.piece();
    edit(next);
    const auto kit = withChangedPiece(session_.kit(), next);
    refusal_->setVisible(!kit);
    if (!kit) return refusal_->setText(QString::fromStdString(kit.error().sentence()));
    session_.apply(kit, what, mergeKey);
}

void RegionSection::setPlace(int side, double value) {
    if (filling() || list_->currentIndex() < 0) return;
    change(tr("Place a region"), QString("region %1 %2").arg(list_->currentIndex()).arg(side),
           [&](Piece& piece) {
               PixelRect& r = isLink() ? piece.links[chosen()].place : piece.slices[chosen()].place;
               const int v = static_cast<int>(value);
               if (side == 0) r = r.moved(v - r.left, 0);
               if (side == 1) r = r.moved(0, v - r.top);
               if (side == 2) r.right = r.left + v;
               if (side == 3) r.bottom = r.top + v;
           });
}

void RegionSection::remove() {
    change(tr("Take a region away"), {}, [this](Piece& piece) {
        if (isLink())
            piece.links.erase(piece.links.begin() + static_cast<std::ptrdiff_t>(chosen()));
        else
            piece.slices.erase(piece.slices.begin() + static_cast<std::ptrdiff_t>(chosen()));
    });
}

// The place in the list that is chosen now: of a piece's new regions the newest; nothing's: -1.
int RegionSection::nowChosen(const Piece& piece) const {
    const std::size_t links = piece.links.size(), all = links + piece.slices.size();
    if (all == 0) return -1;
    if (piece.id != piece_) return 0;
    if (links > links_) return static_cast<int>(links) - 1;
    if (piece.slices.size() > slices_) return static_cast<int>(all) - 1;
    return std::clamp(list_->currentIndex(), 0, static_cast<int>(all) - 1);
}

void RegionSection::fill(const Piece& piece, const Layer*) {
    const int at = nowChosen(piece);
    // What was refused of another region is not this one's.
    if (piece.id != piece_ || at != list_->currentIndex()) refusal_->hide();
    piece_ = piece.id;
    links_ = piece.links.size();
    slices_ = piece.slices.size();
    QStringList names;
    for (std::size_t i = 0; i < piece.links.size(); ++i)
        names << tr("Link %1: %2")
                     .arg(i + 1)
                     .arg(QString::fromStdString(piece.links[i].says.empty()
                                                     ? piece.links[i].address
                                                     : piece.links[i].says));
    for (const Slice& slice : piece.slices)
        names << tr("Slice: %1").arg(QString::fromStdString(slice.name));
    const QSignalBlocker quiet(list_);
    list_->clear();
    list_->addItems(names);
    list_->setCurrentIndex(at);
    fields_->setVisible(at >= 0);
    if (at < 0) return;
    const PixelRect& r = isLink() ? piece.links[chosen()].place : piece.slices[chosen()].place;
    address_->setEnabled(isLink());
    address_->setToolTip(isLink() ? QString() : tr("A slice leads nowhere; link regions do."));
    if (!address_->hasFocus() || !address_->isModified())
        address_->setText(isLink() ? QString::fromStdString(piece.links[chosen()].address)
                                   : QString());
    if (!says_->hasFocus() || !says_->isModified())
        says_->setText(QString::fromStdString(isLink() ? piece.links[chosen()].says
                                                       : piece.slices[chosen()].name));
    const int values[] = {r.left, r.top, r.width(), r.height()};
    for (int i = 0; i < 4; ++i) sides_[i]->show(values[i]);
}

namespace {

std::string freeName(const Piece& piece, const std::string& stem) {
    std::string name = stem;
    for (int i = 2; std::any_of(piece.slices.begin(), piece.slices.end(),
                                [&](const Slice& s) { return s.name == name; });
         ++i)
        name = stem + "-" + std::to_string(i);
    return name;
}

void addTo(Session& session, const QString& what, const std::function<void(Piece&)>& add) {
    if (!session.piece()) return;
    Piece next = *session.piece();
    add(next);
    if (session.apply(withChangedPiece(session.kit(), next), what)) session.choice().chooseLayer(0);
}

}  // namespace

void addLink(Session& session, PixelRect place) {
    addTo(session, RegionSection::tr("Draw a link region"), [&](Piece& piece) {
        piece.links.push_back({place, "", "Link " + std::to_string(piece.links.size() + 1)});
    });
}

void addSlice(Session& session, PixelRect place) {
    addTo(session, RegionSection::tr("Cut a slice"), [&](Piece& piece) {
        piece.slices.push_back({freeName(piece, "part"), place});
    });
}

void addHeaderStrip(Session& session) {
    const Piece* piece = session.piece();
    const Brief* header = session.briefs().find("page-header");
    if (!piece || !header) return;
    const int gap = header->surfaces.empty() ? 0 : header->surfaces.front().gapAbove;
    const PixelSize strip = header->frame;
    if (piece->frame.width < strip.width || piece->frame.height < strip.height + gap)
        return session.tell(RegionSection::tr("The frame is %1 × %2 px; the strip of %3 × %4 px "
                                              "under a gap of %5 px does not fit into it.")
                                .arg(piece->frame.width)
                                .arg(piece->frame.height)
                                .arg(strip.width)
                                .arg(strip.height)
                                .arg(gap),
                            true);
    const int left = (piece->frame.width - strip.width) / 2;
    addTo(session, RegionSection::tr("Cut a header strip"), [&](Piece& next) {
        next.slices.push_back({freeName(next, "header"),
                               {left, gap, left + strip.width, gap + strip.height},
                               header->id});
    });
}

}  // namespace zl::app
