// SPDX-License-Identifier: GPL-3.0-or-later
#include "ask/variants_dialog.h"

#include <QDialogButtonBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "edit/edits.h"
#include "look/theme.h"
#include "picture/shrink.h"

namespace zl::app {
namespace {

constexpr int smallWidth = 168;  // px: a suggestion beside a video
constexpr int abreast = 6;

// Each pixel the mean of what it shows, over the sheet.
QImage smallPicture(const Straight8& frame, PixelSize most) {
    const auto [width, height] = shapeWithin(frame.size(), most);
    const double scale = static_cast<double>(width) / frame.width();
    QImage image(width, height, QImage::Format_RGB32);
    const QColor sheet = Theme::now()["sheet-raised"];
    const Colour ground{static_cast<std::uint8_t>(sheet.red()),
                        static_cast<std::uint8_t>(sheet.green()),
                        static_cast<std::uint8_t>(sheet.blue()), 255};
    showOnScreen(frame, {scale, 0, 0}, {false, ground, ground}, ground, {0, 0, width, height},
                 reinterpret_cast<std::uint32_t*>(image.bits()),
                 static_cast<int>(image.bytesPerLine() / 4));
    return image;
}

}  // namespace

VariantsDialog::VariantsDialog(Session& session, const ReadingsDesk& desk, QWidget* parent)
    : QDialog(parent), session_(session), desk_(desk) {
    setObjectName("variantsDialog");
    setWindowTitle(tr("Variants at %1 px").arg(smallWidth));
    setAttribute(Qt::WA_DeleteOnClose);
    // What is asked here is asked of the kit that is open.
    connect(&session_, &Session::opened, this, &QDialog::reject);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(24, 20, 24, 16);
    column->setSpacing(16);
    cards_ = new QGridLayout;
    cards_->setSpacing(20);
    column->addLayout(cards_);
    auto* hint = new QLabel(tr("Which one is read first, and which one is understood?"));
    hint->setProperty("soft", true);
    column->addWidget(hint);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    column->addWidget(buttons);
    connect(&desk_, &ReadingsDesk::changed, this, &VariantsDialog::refresh);
    connect(&session_, &Session::kitChanged, this, &VariantsDialog::refresh);
    refresh();
}

void VariantsDialog::refresh() {
    // Who goes by keys stays where they are.
    const QString focused = focusWidget() ? focusWidget()->property("piece").toString() : QString();
    while (QLayoutItem* item = cards_->takeAt(0)) {
        if (item->widget()) {
            item->widget()->hide();
            item->widget()->deleteLater();
        }
        delete item;
    }
    if (!session_.piece()) return;
    int number = 0;
    for (const Piece* piece : variantsOf(session_.kit(), *session_.piece())) {
        auto* card = new QWidget;
        card->setObjectName(QString("variant-%1").arg(number++));
        auto* column = new QVBoxLayout(card);
        column->setContentsMargins(0, 0, 0, 0);
        column->setSpacing(6);
        auto* picture = new QLabel;
        picture->setObjectName("variantPicture");
        picture->setFixedWidth(smallWidth);
        const PieceState* state = desk_.state(piece->id);
        if (state && state->frame) {
            const QImage small = smallPicture(*state->frame, {smallWidth, 3 * smallWidth});
            picture->setPixmap(QPixmap::fromImage(small));
            picture->setFixedHeight(small.height());
        } else if (!state || state->refusal.isEmpty())
            picture->setText(tr("Measuring …"));
        column->addWidget(picture);
        auto* title = new QLabel(QString::fromStdString(piece->title));
        title->setFont(interfaceFont(12, 600));
        title->setWordWrap(true);
        title->setFixedWidth(smallWidth);
        column->addWidget(title);
        auto* line = new QLabel(!state                             ? QString()
                                : !state->refusal.isEmpty()        ? state->refusal
                                : state->verdict == Verdict::fail  ? tr("a reading fails")
                                : state->verdict == Verdict::watch ? tr("a reading wants a look")
                                                                   : tr("all readings pass"));
        line->setProperty("soft", true);
        line->setWordWrap(true);
        line->setFixedWidth(smallWidth);
        column->addWidget(line);
        auto* open = new QPushButton(piece->id == session_.piece()->id ? tr("Open now")
                                                                       : tr("Work on this one"));
        open->setObjectName("openVariant");
        open->setProperty("piece", QString::fromStdString(piece->id));
        open->setEnabled(piece->id != session_.piece()->id);
        open->setToolTip(open->isEnabled() ? QString() : tr("It is the piece that is open"));
        connect(open, &QPushButton::clicked, this, [this, id = piece->id] {
            session_.choice().choosePiece(id);
            accept();
        });
        column->addWidget(open);
        column->addStretch();
        cards_->addWidget(card, (number - 1) / abreast, (number - 1) % abreast);
        card->show();
        if (!focused.isEmpty() && focused == open->property("piece").toString()) open->setFocus();
    }
}

}  // namespace zl::app
