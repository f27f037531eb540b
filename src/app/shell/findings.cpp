// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/findings.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include "look/theme.h"
#include "mend/mend.h"
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
        label_ = new QLabel;
        label_->setWordWrap(true);
        label_->setAttribute(Qt::WA_TransparentForMouseEvents);
        row->addWidget(label_);
        say(words);
        setProperty("place", true);
        setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Minimum);
    }
    void say(const QString& words) {
        if (label_->text() != words) label_->setText(words);
        setAccessibleName(words);
    }
    QSize sizeHint() const override { return layout()->sizeHint(); }
    QSize minimumSizeHint() const override { return layout()->minimumSize(); }
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override { return layout()->heightForWidth(width); }

  private:
    QLabel* label_;
};

std::vector<const Finding*> placesOf(const Reading& reading) {
    std::vector<const Finding*> places;
    for (const Finding& finding : reading.findings)
        if (finding.rect || finding.layer) places.push_back(&finding);
    return places;
}

QString titleOf(const Reading& reading) {
    return QString::fromStdString(english({"reading." + reading.id, {}}) + " · " +
                                  english({"verdict." + std::string(nameOf(reading.verdict)), {}}));
}

// What a reading says, unless its one place says the same.
QString sentenceOf(const Reading& reading) {
    const auto places = placesOf(reading);
    const QString says = QString::fromStdString(english(reading.says));
    return places.size() == 1 && says == QString::fromStdString(english(places.front()->says))
               ? QString()
               : says;
}

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
    setAttribute(Qt::WA_StyledBackground);
    setProperty("onLedge", true);
    setAccessibleName(tr("Findings"));
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(1, 1, 1, 1);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    outer->addWidget(scroll);
    content_ = new QWidget;
    layout_ = new QVBoxLayout(content_);
    scroll->setWidget(content_);
    hide();
}

std::vector<std::pair<QString, QString>> Findings::mendsOf(const Reading& reading) const {
    std::vector<std::pair<QString, QString>> mends;
    const Brief* brief = session_.brief();
    for (const std::string& id : reading.mends)
        if (brief && session_.piece())
            mends.emplace_back(
                QString::fromStdString(id),
                QString::fromStdString(mendTitle(id, *brief, session_.piece()->frame, &reading)));
    return mends;
}

// What the panel is made of; two lots of readings that agree in it differ in words alone.
QString Findings::madeOf(const std::vector<Reading>& readings) const {
    QString made = Theme::name();
    for (const Reading& reading : readings) {
        made += QString("\n%1 %2 %3")
                    .arg(QString::fromStdString(reading.id))
                    .arg(static_cast<int>(reading.verdict))
                    .arg(placesOf(reading).size());
        for (const auto& [id, title] : mendsOf(reading)) made += ' ' + id + ' ' + title;
    }
    return made;
}

void Findings::add(std::size_t at) {
    const Reading& reading = readings_[at];
    Row row;
    auto* head = new QHBoxLayout;
    head->setSpacing(8);
    head->addWidget(verdictShape(reading.verdict), 0, Qt::AlignTop);
    auto* title = new QLabel(titleOf(reading));
    title->setFont(interfaceFont(13, 600));
    head->addWidget(title, 1);
    layout_->addLayout(head);
    row.says = new QLabel(sentenceOf(reading));
    row.says->setObjectName("says-" + QString::fromStdString(reading.id));
    row.says->setWordWrap(true);
    layout_->addWidget(row.says);
    row.says->setVisible(!row.says->text().isEmpty());
    for (const Finding* finding : placesOf(reading)) {
        const std::size_t number = row.places.size();
        auto* place = new PlaceButton(QString::fromStdString(english(finding->says)));
        place->setObjectName(
            QString("finding-%1-%2").arg(QString::fromStdString(reading.id)).arg(number));
        place->setToolTip(tr("Show where"));
        connect(place, &QPushButton::clicked, this, [this, at, number] {
            const Finding there =
                *placesOf(readings_[at])[number];  // the panel may change meanwhile
            Q_EMIT placeAsked(there);
        });
        layout_->addWidget(place);
        row.places.push_back(place);
    }
    rows_.push_back(row);
    const auto asked = mendsOf(reading);
    if (asked.empty()) return;
    auto* mends = new QHBoxLayout;
    mends->setSpacing(8);
    for (const auto& [id, words] : asked) {
        auto* button = new QPushButton(literally(words));
        button->setObjectName("mend-" + id);
        button->setProperty("mend", true);
        connect(button, &QPushButton::clicked, this, [this, id = id] { Q_EMIT mendAsked(id); });
        mends->addWidget(button);
    }
    mends->addStretch();
    layout_->addLayout(mends);
}

void Findings::show(const std::vector<Reading>& readings) {
    const QString made = madeOf(readings);
    const bool same = readings == readings_, words = made == made_;
    readings_ = readings;
    made_ = made;
    // While an edit goes on only the numbers change: the panel is not built anew for them.
    if (!words)
        build();
    else if (!same)
        say();
    QFrame::show();
    raise();
}

void Findings::focusFirst() {
    if (auto* first = content_->findChild<QPushButton*>()) first->setFocus();
}

void Findings::say() {
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        rows_[i].says->setText(sentenceOf(readings_[i]));
        rows_[i].says->setVisible(!rows_[i].says->text().isEmpty());
        const auto places = placesOf(readings_[i]);
        for (std::size_t k = 0; k < places.size(); ++k)
            static_cast<PlaceButton*>(rows_[i].places[k])
                ->say(QString::fromStdString(english(places[k]->says)));
    }
    fit();
}

void Findings::build() {
    QWidget* old = content_;
    auto* scroll = findChild<QScrollArea*>();
    content_ = new QWidget;
    layout_ = new QVBoxLayout(content_);
    layout_->setContentsMargins(16, 12, 16, 14);
    layout_->setSpacing(6);
    rows_.clear();
    scroll->takeWidget();
    old->deleteLater();
    for (std::size_t i = 0; i < readings_.size(); ++i) {
        if (i > 0) layout_->addSpacing(12);
        add(i);
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
    fit();
    close->move(panelWidth - 42, 6);
}

void Findings::fit() {
    layout_->activate();
    const int needed = layout_->totalHeightForWidth(panelWidth - 2);
    content_->setFixedHeight(needed);
    setFixedHeight(std::min(tallest, std::max(needed, 60) + 4));
}

void Findings::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) {
        Q_EMIT closed();
        return;
    }
    QFrame::keyPressEvent(event);
}

}  // namespace zl::app
