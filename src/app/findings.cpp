// SPDX-License-Identifier: GPL-3.0-or-later
#include "findings.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include "readings/mend.h"
#include "theme.h"
#include "words/words.h"

namespace zl::app {
namespace {

constexpr int panelWidth = 460, tallest = 380;

// A button whose words wrap: a finding is a sentence.
class PlaceButton : public QPushButton {
  public:
    explicit PlaceButton(const QString& words) {
        auto* row = new QHBoxLayout(this);
        row->setContentsMargins(12, 6, 12, 6);
        auto* label = new QLabel(words);
        label->setWordWrap(true);
        label->setAttribute(Qt::WA_TransparentForMouseEvents);
        row->addWidget(label);
        setAccessibleName(words);
        setProperty("place", true);
        setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Minimum);
    }
    QSize sizeHint() const override { return layout()->sizeHint(); }
    QSize minimumSizeHint() const override { return layout()->minimumSize(); }
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override { return layout()->heightForWidth(width); }
};

QLabel* verdictShape(Verdict verdict) {
    auto* label = new QLabel;
    QPixmap pixmap(32, 32);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    drawVerdict(painter, QRectF(5, 5, 20, 20), verdict, true);
    painter.end();
    pixmap.setDevicePixelRatio(2);
    label->setPixmap(pixmap);
    label->setFixedWidth(18);
    return label;
}

}  // namespace

Findings::Findings(Session& session, QWidget* parent) : QFrame(parent), session_(session) {
    setObjectName("findings");
    setAccessibleName(tr("Findings"));
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(1, 1, 1, 1);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    outer->addWidget(scroll);
    content_ = new QWidget;
    rows_ = new QVBoxLayout(content_);
    rows_->setContentsMargins(16, 12, 16, 14);
    rows_->setSpacing(6);
    scroll->setWidget(content_);
    hide();
}

void Findings::add(const Reading& reading) {
    auto* head = new QHBoxLayout;
    head->setSpacing(8);
    head->addWidget(verdictShape(reading.verdict), 0, Qt::AlignTop);
    const QString word = QString::fromStdString(english({"verdict." + std::string(nameOf(reading.verdict)), {}}));
    auto* title = new QLabel(QString::fromStdString(english({"reading." + reading.id, {}})) + " · " + word);
    title->setFont(interfaceFont(13, 600));
    head->addWidget(title, 1);
    rows_->addLayout(head);
    auto* says = new QLabel(QString::fromStdString(english(reading.says)));
    says->setObjectName("says-" + QString::fromStdString(reading.id));
    says->setWordWrap(true);
    rows_->addWidget(says);
    int number = 0;
    for (const Finding& finding : reading.findings) {
        if (!finding.rect && !finding.layer) continue;
        auto* place = new PlaceButton(QString::fromStdString(english(finding.says)));
        place->setObjectName(QString("finding-%1-%2").arg(QString::fromStdString(reading.id)).arg(number++));
        place->setToolTip(tr("Show where"));
        connect(place, &QPushButton::clicked, this, [this, finding] { Q_EMIT placeAsked(finding); });
        rows_->addWidget(place);
    }
    if (reading.mends.empty()) return;
    auto* mends = new QHBoxLayout;
    mends->setSpacing(8);
    const Brief* brief = session_.brief();
    for (const std::string& id : reading.mends) {
        if (!brief || !session_.piece()) continue;
        auto* button = new QPushButton(QString::fromStdString(mendTitle(id, *brief, session_.piece()->frame)));
        button->setObjectName("mend-" + QString::fromStdString(id));
        button->setProperty("mend", true);
        connect(button, &QPushButton::clicked, this, [this, id] { Q_EMIT mendAsked(QString::fromStdString(id)); });
        mends->addWidget(button);
    }
    mends->addStretch();
    rows_->addLayout(mends);
}

void Findings::show(const std::vector<Reading>& readings) {
    QWidget* old = content_;
    auto* scroll = findChild<QScrollArea*>();
    content_ = new QWidget;
    rows_ = new QVBoxLayout(content_);
    rows_->setContentsMargins(16, 12, 16, 14);
    rows_->setSpacing(6);
    scroll->takeWidget();
    old->deleteLater();
    for (const Reading& reading : readings) {
        if (&reading != &readings.front()) rows_->addSpacing(12);
        add(reading);
    }
    auto* close = new QToolButton(content_);
    close->setIcon(lineIcon("close", "on-ledge"));
    close->setAccessibleName(tr("Close the findings"));
    close->setObjectName("closeFindings");
    connect(close, &QToolButton::clicked, this, &Findings::closed);
    scroll->setWidget(content_);
    setFixedWidth(panelWidth);
    content_->setFixedWidth(panelWidth - 2);
    content_->ensurePolished();
    for (QWidget* widget : content_->findChildren<QWidget*>()) widget->ensurePolished();
    rows_->activate();
    const int needed = rows_->totalHeightForWidth(panelWidth - 2);
    setFixedHeight(std::min(tallest, std::max(needed, 60) + 4));
    close->move(panelWidth - 42, 6);
    QFrame::show();
    raise();
}

void Findings::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) {
        Q_EMIT closed();
        return;
    }
    QFrame::keyPressEvent(event);
}

}  // namespace zl::app
