// SPDX-License-Identifier: GPL-3.0-or-later
#include "ask/new_piece_dialog.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QScreen>
#include <QVBoxLayout>

#include "base/json.h"
#include "edit/edits.h"
#include "look/theme.h"
#include "release/moving_kinds.h"
#include "words/words.h"

namespace zl::app {
namespace {

QString frameWords(const Brief& brief) {
    if (brief.frameRule == FrameRule::any) return NewPieceDialog::tr("any frame");
    const QString size = QString("%1 × %2").arg(brief.frame.width).arg(brief.frame.height);
    return brief.frameRule == FrameRule::minimum ? NewPieceDialog::tr("at least %1").arg(size)
                                                 : size;
}

QString words(const OrderedJson& json, const char* key) {
    return QString::fromStdString(json.value(key, std::string()));
}

QString factLine(const QString& name, const QString& value, const std::string& from) {
    return QString(
               "<tr><td style='padding:3px 14px 3px 0; color:%1'>%2</td><td style='padding:3px "
               "14px 3px 0'>%3</td><td "
               "style='padding:3px 0; color:%1'>%4</td></tr>")
        .arg(Theme::now()["ink-soft"].name(), name, value.toHtmlEscaped(),
             QString::fromStdString(from).toHtmlEscaped());
}

// What it asks of a piece that moves.
QString movingLine(const Brief& brief) {
    const MovingBrief& moving = brief.moving;
    if (moving.formats.empty()) return {};
    QStringList words;
    for (const std::string& id : moving.formats)
        if (const auto kind = movingKindBy(id))
            words << QString::fromUtf8(factsOf(*kind).title.data());
    QString line = words.join(", ");
    if (moving.limit)
        line += NewPieceDialog::tr("; %1").arg(QString::fromStdString(weightWords(*moving.limit)));
    if (moving.longest > 0) line += NewPieceDialog::tr("; %1 s at most").arg(moving.longest);
    return factLine(NewPieceDialog::tr("Moving"), line,
                    wholeOf(brief)["moving"].value("provenance", std::string()));
}

// The zones and the places where it is met, each with where its numbers come from.
QString placesOf(const Brief& brief) {
    QString lines;
    const OrderedJson whole = wholeOf(brief);
    for (const auto& zone : whole["zones"]) {
        const QString role = words(zone, "role");
        lines += factLine(role == "visible"       ? NewPieceDialog::tr("Visible")
                          : role == "keep-inside" ? NewPieceDialog::tr("Keep inside")
                                                  : NewPieceDialog::tr("Keep clear"),
                          words(zone, "title"), zone.value("provenance", std::string()));
    }
    for (const auto& surface : whole["surfaces"])
        lines += factLine(NewPieceDialog::tr("Met as"),
                          surface["width"].get<int>() > 0 ? NewPieceDialog::tr("%1, %2 px")
                                                                .arg(words(surface, "title"))
                                                                .arg(surface["width"].get<int>())
                                                          : words(surface, "title"),
                          surface.value("provenance", std::string()));
    return lines;
}

}  // namespace

NewPieceDialog::NewPieceDialog(Session& session, QWidget* parent)
    : QDialog(parent), session_(session) {
    setObjectName("newPieceDialog");
    setWindowTitle(tr("Start a piece"));
    setAttribute(Qt::WA_DeleteOnClose);
    resize(700, 540);
    auto* whole = new QHBoxLayout(this);
    whole->setContentsMargins(16, 16, 16, 16);
    whole->setSpacing(20);
    whole->addLayout(buildList());

    auto* right = new QVBoxLayout;
    right->setSpacing(10);
    facts_ = new QLabel;
    facts_->setTextFormat(Qt::RichText);
    facts_->setObjectName("briefFacts");
    facts_->setWordWrap(true);
    facts_->setAlignment(Qt::AlignTop);
    right->addWidget(facts_, 1);
    right->addLayout(buildFields());
    refusal_ = new QLabel;
    refusal_->setObjectName("refusal");
    refusal_->setWordWrap(true);
    right->addWidget(refusal_);
    right->addLayout(buildButtons());
    whole->addLayout(right, 1);

    connect(list_, &QListWidget::currentRowChanged, this, &NewPieceDialog::showBrief);
    connect(list_, &QListWidget::itemActivated, this, &NewPieceDialog::start);
    for (NumberField* field : {width_, height_})
        connect(field, &NumberField::refused, refusal_, &QLabel::setText);
    list_->setCurrentRow(0);
}

QLayout* NewPieceDialog::buildList() {
    auto* left = new QVBoxLayout;
    auto* ask = new QLabel(tr("Where does it go?"));
    ask->setFont(interfaceFont(15, 600));
    left->addWidget(ask);
    list_ = new QListWidget;
    list_->setObjectName("briefs");
    list_->setAccessibleName(tr("Briefs"));
    list_->setProperty("field", true);
    for (const Brief& brief : session_.briefs().all) {
        auto* item = new QListWidgetItem(QString::fromStdString(brief.title), list_);
        item->setData(Qt::UserRole, QString::fromStdString(brief.id));
    }
    list_->setFixedWidth(240);
    left->addWidget(list_, 1);

    return left;
}

QLayout* NewPieceDialog::buildFields() {
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    title_ = new QLineEdit;
    title_->setObjectName("newTitle");
    title_->setAccessibleName(tr("Title"));
    width_ = new NumberField(tr("Frame width"), tr("px"));
    height_ = new NumberField(tr("Frame height"), tr("px"));
    width_->setObjectName("newWidth");
    height_->setObjectName("newHeight");
    for (NumberField* field : {width_, height_}) field->setRange(1, 20'000, 0);
    connect(width_, &NumberField::committed, width_, &NumberField::show);
    connect(height_, &NumberField::committed, height_, &NumberField::show);
    grid->addWidget(new QLabel(tr("Title")), 0, 0);
    grid->addWidget(title_, 0, 1, 1, 2);
    grid->addWidget(new QLabel(tr("Frame")), 1, 0);
    grid->addWidget(width_, 1, 1);
    grid->addWidget(height_, 1, 2);
    screen_ = new QPushButton;
    screen_->setObjectName("ownScreen");
    grid->addWidget(screen_, 2, 1, 1, 2);
    connect(screen_, &QPushButton::clicked, this, [this] {
        const QSize size = screenSize();
        width_->show(size.width());
        height_->show(size.height());
        for (NumberField* field : {width_, height_}) field->setEnabled(true);
    });
    return grid;
}

QLayout* NewPieceDialog::buildButtons() {
    auto* buttons = new QHBoxLayout;
    buttons->addStretch();
    auto* cancel = new QPushButton(tr("Cancel"));
    start_ = new QPushButton(tr("Start"));
    start_->setObjectName("startPiece");
    start_->setProperty("primary", true);
    start_->setDefault(true);
    buttons->addWidget(cancel);
    buttons->addWidget(start_);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    connect(start_, &QPushButton::clicked, this, &NewPieceDialog::start);
    return buttons;
}

const Brief* NewPieceDialog::brief() const {
    return list_->currentItem()
               ? session_.briefs().find(
                     list_->currentItem()->data(Qt::UserRole).toString().toStdString())
               : nullptr;
}

void NewPieceDialog::showBrief() {
    const Brief* chosen = brief();
    if (!chosen) return;
    QString formats;
    for (const std::string& id : chosen->formats)
        if (const auto content = contentById(id))
            formats += (formats.isEmpty() ? "" : ", ") +
                       QString::fromUtf8(factsOf(*content).title.data(),
                                         static_cast<int>(factsOf(*content).title.size()));
    const OrderedJson provenance = wholeOf(*chosen)["provenance"];
    facts_->setText(
        "<p style='font-size:15px; font-weight:600'>" +
        QString::fromStdString(chosen->title).toHtmlEscaped() + "</p><p>" +
        QString::fromStdString(chosen->about).toHtmlEscaped() + "</p><table>" +
        factLine(tr("Frame"), frameWords(*chosen), provenance["frame"].get<std::string>()) +
        factLine(tr("Formats"), formats, provenance["formats"].get<std::string>()) +
        factLine(tr("Limit"),
                 chosen->limit ? QString::fromStdString(weightWords(*chosen->limit)) : tr("none"),
                 provenance["limit"].get<std::string>()) +
        factLine(tr("Alpha"),
                 chosen->alpha == AlphaDemand::seeThrough ? tr("see-through")
                 : chosen->alpha == AlphaDemand::any      ? tr("any")
                                                          : tr("not needed"),
                 provenance["alpha"].get<std::string>()) +
        movingLine(*chosen) + placesOf(*chosen) +
        "</table><p style='color:" + Theme::now()["ink-soft"].name() + "'>" +
        tr("The last column says where each number comes from.") + "</p>");
    // What was typed is the person's; a title of ours follows the choice.
    if (!title_->isModified()) title_->setText(QString::fromStdString(chosen->title));
    refusal_->clear();
    width_->show(chosen->frame.width);
    height_->show(chosen->frame.height);
    // An exact frame is the destination's to say; it can still be changed on the bench.
    for (NumberField* field : {width_, height_})
        field->setEnabled(chosen->frameRule != FrameRule::exact);
    const QSize own = screenSize();
    screen_->setVisible(chosen->ownScreen);
    screen_->setText(tr("Take your own screen, %1 × %2").arg(own.width()).arg(own.height()));
}

// Device px.
QSize NewPieceDialog::screenSize() const {
    const QScreen* here = screen();
    return here ? (QSizeF(here->size()) * here->devicePixelRatio()).toSize() : QSize(1920, 1080);
}

void NewPieceDialog::start() {
    const Brief* chosen = brief();
    if (!chosen) return;
    Piece piece;
    piece.title = title_->text().trimmed().toStdString();
    piece.brief = chosen->id;
    piece.frame = {width_->text().toInt(), height_->text().toInt()};
    for (const NumberField* field : {width_, height_})
        if (!field->refusal().isEmpty()) return refusal_->setText(field->refusal());
    piece.ownScreen = chosen->ownScreen && piece.frame != chosen->frame;
    piece.release.name = fileNameFromTitle(session_.kit().title + " " + piece.title);
    const auto next = withPiece(session_.kit(), piece);
    if (!next) return refusal_->setText(QString::fromStdString(next.error().sentence()));
    if (!session_.apply(next, tr("Start a piece"))) return;
    session_.choice().choosePiece(session_.kit().pieces.back().id);
    accept();
}

}  // namespace zl::app
