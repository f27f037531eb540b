// SPDX-License-Identifier: GPL-3.0-or-later
#include "ask/brief_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "base/data_files.h"
#include "edit/edits.h"
#include "look/theme.h"
#include "widgets/form.h"

namespace zl::app {
namespace {

constexpr std::array<const char*, 6> formatIds{"png", "jpeg", "gif", "webp", "bmp", "tiff"};
constexpr std::array<const char*, 3> rules{"exact", "minimum", "any"},
    alphas{"none-needed", "see-through", "any"}, roles{"visible", "keep-inside", "keep-clear"};

template <class Table>
int rowOf(const Table& table, const std::string& word) {
    const auto found = std::find(table.begin(), table.end(), word);
    return found == table.end() ? 0 : static_cast<int>(found - table.begin());
}

QString percent(double share) {
    return QString::number(share * 100, 'g', 6);
}

}  // namespace

BriefDialog::BriefDialog(Session& session, DrawRegion drawRegion, QWidget* parent)
    : QDialog(parent), session_(session), drawRegion_(std::move(drawRegion)) {
    setObjectName("briefDialog");
    setWindowTitle(tr("A brief of your own"));
    setAttribute(Qt::WA_DeleteOnClose);
    // What is asked here is asked of the kit that is open.
    connect(&session_, &Session::opened, this, &QDialog::reject);
    resize(760, 560);
    const Brief* from = session_.brief() ? session_.brief() : &session_.briefs().all.back();
    base_ = wholeOf(*from);
    pieceId_ = session_.piece() ? session_.piece()->id : "";
    const bool own = from->id.starts_with("own-");  // saved again under its title
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 16);
    column->setSpacing(10);
    auto* about =
        new QLabel((own ? tr("“%1” is your own. Under the same title it is changed, under another "
                             "a copy is made.")
                        : tr("A copy of “%1” to change. Every number says where it comes from."))
                       .arg(QString::fromStdString(from->title)));
    about->setProperty("soft", true);
    column->addWidget(about);
    column->addWidget(buildDemands(*from, own));
    buildZones();
    column->addWidget(zones_, 1);
    refusal_ = refusalLine();
    column->addWidget(refusal_);
    column->addLayout(buildButtons());
}

QWidget* BriefDialog::buildDemands(const Brief& from, bool own) {
    auto* whole = new QWidget;
    Form form(whole);
    whole->layout()->setContentsMargins(0, 0, 0, 0);
    title_ = named(new QLineEdit(own ? QString::fromStdString(from.title)
                                     : tr("%1, my own").arg(QString::fromStdString(from.title))),
                   "briefTitle");
    title_->setAccessibleName(tr("Title"));
    form.row(tr("Title"), title_);
    rule_ = named(new QComboBox, "briefRule");
    rule_->addItems({tr("exactly"), tr("at least"), tr("any frame")});
    rule_->setAccessibleName(tr("How the frame is asked for"));
    rule_->setCurrentIndex(rowOf(rules, base_["frame"]["rule"]));
    alpha_ = named(new QComboBox, "briefAlpha");
    alpha_->addItems({tr("alpha not needed"), tr("see-through"), tr("any alpha")});
    alpha_->setAccessibleName(tr("Alpha"));
    alpha_->setCurrentIndex(rowOf(alphas, base_["alpha"]));
    form.row(tr("Asks"), rule_, alpha_);
    buildNumbers();
    form.row(tr("Frame"), width_, height_);
    provenance_ = named(new QLineEdit(tr("my own")), "briefProvenance");
    provenance_->setAccessibleName(tr("Where the numbers come from"));
    form.row(tr("Limit"), limit_);
    form.row(tr("Formats"), buildFormats());
    form.row(tr("Come from"), provenance_);
    return whole;
}

QWidget* BriefDialog::buildFormats() {
    std::vector<QWidget*> boxes;
    for (const char* id : formatIds) {
        auto* box =
            named(new QCheckBox(QString(id).toUpper()), (std::string("format-") + id).c_str());
        const auto& accepted = base_["formats"];
        box->setChecked(std::find(accepted.begin(), accepted.end(), id) != accepted.end());
        formats_.push_back(box);
        boxes.push_back(box);
    }
    return sideBySide(boxes);
}

void BriefDialog::buildNumbers() {
    width_ = named(new NumberField(tr("Frame width"), tr("px")), "briefWidth");
    height_ = named(new NumberField(tr("Frame height"), tr("px")), "briefHeight");
    limit_ = named(new NumberField(tr("Limit"), tr("bytes")), "briefLimit");
    for (NumberField* field : {width_, height_}) field->setRange(1, 10'000, 0);
    limit_->setRange(0, 1e9, 0);
    limit_->setWordsForZero(tr("none"));
    for (NumberField* field : {width_, height_, limit_})
        connect(field, &NumberField::committed, field, &NumberField::show);
    width_->show(base_["frame"]["width"].get<double>());
    height_->show(base_["frame"]["height"].get<double>());
    limit_->show(base_["limit"].is_null() ? 0 : base_["limit"].get<double>());
}

void BriefDialog::buildZones() {
    zones_ = named(new QTableWidget(0, 7), "briefZones");
    zones_->setHorizontalHeaderLabels({tr("Zone"), tr("Role"), tr("Left %"), tr("Top %"),
                                       tr("Right %"), tr("Bottom %"), tr("Comes from")});
    zones_->setAccessibleName(tr("Zones, in per cent of the frame"));
    zones_->verticalHeader()->hide();
    zones_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    zones_->horizontalHeader()->setSectionResizeMode(6, QHeaderView::Stretch);
    for (int i = 2; i < 6; ++i) zones_->setColumnWidth(i, 66);
    zones_->setColumnWidth(1, 110);
    for (const auto& zone : base_["zones"]) addZone(zone);
}

QLayout* BriefDialog::buildButtons() {
    auto* buttons = new QHBoxLayout;
    auto* draw = named(new QPushButton(tr("Draw a zone on the piece")), "drawZone");
    auto* remove = named(new QPushButton(tr("Take the zone away")), "removeZone");
    draw->setEnabled(session_.piece());
    draw->setToolTip(session_.piece() ? QString()
                                      : tr("Start a piece first; zones are drawn on it."));
    buttons->addWidget(draw);
    buttons->addWidget(remove);
    buttons->addStretch();
    auto* cancel = new QPushButton(tr("Cancel"));
    auto* save = named(new QPushButton(tr("Save the brief")), "saveBrief");
    save->setProperty("primary", true);
    save->setDefault(true);
    buttons->addWidget(cancel);
    buttons->addWidget(save);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    connect(save, &QPushButton::clicked, this, &BriefDialog::save);
    connect(draw, &QPushButton::clicked, this, &BriefDialog::drawZone);
    connect(remove, &QPushButton::clicked, this, [this] {
        if (zones_->currentRow() >= 0) zones_->removeRow(zones_->currentRow());
    });
    return buttons;
}

void BriefDialog::addZone(const OrderedJson& zone) {
    const int row = zones_->rowCount();
    zones_->insertRow(row);
    auto* title = new QTableWidgetItem(QString::fromStdString(zone["title"].get<std::string>()));
    title->setData(Qt::UserRole, QString::fromStdString(zone.dump()));
    zones_->setItem(row, 0, title);
    auto* role = new QComboBox;
    role->addItems({tr("visible"), tr("keep inside"), tr("keep clear")});
    role->setAccessibleName(tr("Role"));
    role->setCurrentIndex(rowOf(roles, zone["role"]));
    zones_->setCellWidget(row, 1, role);
    for (int i = 0; i < 4; ++i)
        zones_->setItem(
            row, 2 + i,
            new QTableWidgetItem(percent(zone["rect"][static_cast<std::size_t>(i)].get<double>())));
    zones_->setItem(
        row, 6, new QTableWidgetItem(QString::fromStdString(zone.value("provenance", "my own"))));
}

bool BriefDialog::hasZone(const std::string& id) const {
    for (int row = 0; row < zones_->rowCount(); ++row)
        if (OrderedJson::parse(
                zones_->item(row, 0)->data(Qt::UserRole).toString().toStdString())["id"] == id)
            return true;
    return false;
}

// The dialog steps aside until the rectangle is drawn.
void BriefDialog::drawZone() {
    hide();
    const QPointer<BriefDialog> self(this);
    const auto back = [self] {
        if (self) self->open();
    };
    const auto drawn = [self, back](PixelRect r) {
        if (!self || !self->session_.piece()) return;
        const PixelSize frame = self->session_.piece()->frame;
        const double w = frame.width, h = frame.height;
        int n = 1;
        while (self->hasZone("zone-" + std::to_string(n))) ++n;
        self->addZone({{"id", "zone-" + std::to_string(n)},
                       {"title", tr("Zone %1").arg(n).toStdString()},
                       {"role", "keep-clear"},
                       {"rect", {r.left / w, r.top / h, r.right / w, r.bottom / h}},
                       {"provenance", tr("drawn by hand").toStdString()}});
        back();
    };
    drawRegion_(drawn, back);
}

OrderedJson BriefDialog::written() const {
    OrderedJson json = base_;
    const std::string title = title_->text().trimmed().toStdString(),
                      from = provenance_->text().trimmed().toStdString();
    const bool same = title == base_["title"] && base_["id"].get<std::string>().starts_with("own-");
    if (!same) json["id"] = "own-" + fileNameFromTitle(title);
    json["title"] = title;
    json["frame"]["rule"] = rules[static_cast<std::size_t>(rule_->currentIndex())];
    json["alpha"] = alphas[static_cast<std::size_t>(alpha_->currentIndex())];
    const auto number = [&](const char* part, const char* key, const NumberField* field) {
        const int value = static_cast<int>(field->text().toDouble());
        if (json[part][key] != value) json["provenance"][part] = from;
        json[part][key] = value;
    };
    number("frame", "width", width_);
    number("frame", "height", height_);
    const long long limit = limit_->text().toLongLong();
    const OrderedJson asked = limit > 0 ? OrderedJson(limit) : OrderedJson(nullptr);
    if (json["limit"] != asked) json["provenance"]["limit"] = from;
    json["limit"] = asked;
    // In the order of the brief it was begun from, what is new behind.
    OrderedJson formats = OrderedJson::array();
    const auto& before = base_["formats"];
    const auto add = [&](std::size_t i) {
        if (formats_[i]->isChecked()) formats.push_back(formatIds[i]);
    };
    for (const auto& id : before)
        add(static_cast<std::size_t>(rowOf(formatIds, id.get<std::string>())));
    for (std::size_t i = 0; i < formats_.size(); ++i)
        if (std::find(before.begin(), before.end(), formatIds[i]) == before.end()) add(i);
    if (json["formats"] != formats) json["provenance"]["formats"] = from;
    json["formats"] = formats;
    OrderedJson zones = OrderedJson::array();
    for (int row = 0; row < zones_->rowCount(); ++row) {
        OrderedJson zone =
            OrderedJson::parse(zones_->item(row, 0)->data(Qt::UserRole).toString().toStdString());
        zone["title"] = zones_->item(row, 0)->text().trimmed().toStdString();
        zone["role"] = roles[static_cast<std::size_t>(
            static_cast<QComboBox*>(zones_->cellWidget(row, 1))->currentIndex())];
        OrderedJson rect = OrderedJson::array();
        for (int i = 0; i < 4; ++i)
            rect.push_back(zones_->item(row, 2 + i)->text().toDouble() / 100);
        zone["rect"] = rect;
        zone["provenance"] = zones_->item(row, 6)->text().trimmed().toStdString();
        zones.push_back(zone);
    }
    json["zones"] = zones;
    // A surface that showed a zone which is gone has nothing to show.
    OrderedJson surfaces = OrderedJson::array();
    for (const auto& surface : json["surfaces"])
        if (!surface.contains("zone") || hasZone(surface["zone"].get<std::string>()))
            surfaces.push_back(surface);
    json["surfaces"] = surfaces;
    return json;
}

void BriefDialog::refuse(const QString& sentence) {
    refusal_->setText(sentence);
    refusal_->setVisible(!sentence.isEmpty());
}

void BriefDialog::save() {
    for (int row = 0; row < zones_->rowCount(); ++row)
        for (int i = 2; i < 6; ++i) {
            bool good = false;
            zones_->item(row, i)->text().toDouble(&good);
            if (!good)
                return refuse(tr("“%1” is no number: the zone “%2” needs four.")
                                  .arg(zones_->item(row, i)->text(), zones_->item(row, 0)->text()));
        }
    for (const NumberField* field : {width_, height_, limit_})
        if (!field->refusal().isEmpty()) return refuse(field->refusal());
    const QPointer<BriefDialog> self(this);
    const OrderedJson brief = written();
    session_.keepOwnBrief(brief, brief["id"] == base_["id"] ? Replace::yes : Replace::no,
                          [self](const Result<std::string>& done) {
                              if (self) self->kept(done);
                          });
}

void BriefDialog::kept(const Result<std::string>& brief) {
    if (!brief) return refuse(QString::fromStdString(brief.error().sentence()));
    // The piece that it was begun from is held against it from now on.
    if (const Piece* piece = session_.kit().piece(pieceId_)) {
        Piece next = *piece;
        next.brief = *brief;
        session_.apply(withChangedPiece(session_.kit(), next), tr("A brief of your own"));
    }
    session_.tell(tr("The brief is kept in your data folder."), false);
    accept();
}

}  // namespace zl::app
