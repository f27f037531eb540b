// SPDX-License-Identifier: GPL-3.0-or-later
#include "ask/over_video_dialog.h"

#include <QComboBox>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QScopedValueRollback>
#include <QScrollArea>
#include <cmath>

#include "edit/edits.h"
#include "film/take_still.h"
#include "look/theme.h"
#include "widgets/fields.h"
#include "widgets/form.h"
#include "words/words.h"
#include "work/film_desk.h"

namespace zl::app {

OverVideoDialog::OverVideoDialog(Session& session, Dialogs& dialogs, QWidget* parent)
    : QDialog(parent), session_(session), dialogs_(dialogs), desk_(session) {
    setObjectName("overVideoDialog");
    setWindowTitle(tr("Over a video"));
    setAttribute(Qt::WA_DeleteOnClose);
    // What is asked here is asked of the kit that is open.
    connect(&session_, &Session::opened, this, &QDialog::reject);
    resize(1120, 720);
    auto* columns = new QHBoxLayout(this);
    columns->setContentsMargins(20, 16, 20, 16);
    columns->setSpacing(20);
    columns->addWidget(buildLook(), 1);
    columns->addWidget(buildForm());
    listen();
    listenToDesk();
    const Piece& piece = *session_.piece();
    // A piece as large as the frame of a video covers it; a mark stands in a corner.
    const bool whole = session_.brief() && !session_.brief()->moving.formats.empty();
    const bool large = piece.frame.width >= 1000 || whole;
    const QScopedValueRollback<bool> guard(filling_, true);
    choose(place_, large ? StampAt::centre : StampAt::bottomRight);
    width_->show(large ? 100 : 12);
    insetX_->show(large ? 0 : 2.5);
    insetY_->show(large ? 0 : 2.5);
    opacity_->show(100);
    outline_->show(0);
    from_->show(0);
    to_->show(0);
    fade_->show(0);
    quality_->show(usualQuality);
    limit_->show(0);
    desk_.takeMark();
    if (piece.video)
        openVideo(
            QString::fromStdString(videoAt(piece.video->file, session_.files().path()).string()));
    refresh();
    // Enter in a field is the field's own.
    for (QPushButton* button : findChildren<QPushButton*>()) button->setAutoDefault(false);
    choose_->setFocus();
}

QWidget* OverVideoDialog::buildLook() {
    auto* whole = new QWidget;
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(10);
    auto* title =
        new QLabel(tr("“%1” over a video").arg(QString::fromStdString(session_.piece()->title)));
    title->setFont(interfaceFont(15, 600));
    column->addWidget(title);
    picture_ = named(new QLabel(tr("Choose a video of yours: the piece is shown on it here.")),
                     "overVideoPicture");
    picture_->setAlignment(Qt::AlignCenter);
    picture_->setMinimumSize(640, 360);
    picture_->setAutoFillBackground(true);
    picture_->setBackgroundRole(QPalette::Mid);
    column->addWidget(picture_, 1);
    verdict_ = named(new QLabel, "overVideoVerdict");
    verdict_->setWordWrap(true);
    verdict_->setFont(interfaceFont(13, 600));
    column->addWidget(verdict_);
    column->addWidget(chart_ = new LegibleChart);
    proposals_ = named(new QWidget, "overVideoProposals");
    proposalRows_ = new QVBoxLayout(proposals_);
    proposalRows_->setContentsMargins(0, 0, 0, 0);
    proposalRows_->setSpacing(6);
    column->addWidget(proposals_);
    return whole;
}

NumberField* OverVideoDialog::number(const QString& caption, const QString& unit, const char* id,
                                     double low, double high, int decimals) {
    auto* field = named(new NumberField(caption, unit), id);
    field->setRange(low, high, decimals);
    connect(field, &NumberField::committed, this, [this, field](double v) {
        field->show(v);
        changed();
    });
    return field;
}

void OverVideoDialog::buildFields(Form& form) {
    video_ = named(new PathField, "overVideoFile");
    video_->setAccessibleName(tr("The video"));
    video_->setPlaceholderText(tr("a video of yours"));
    choose_ = named(new QPushButton(tr("Choose …")), "overVideoChoose");
    form.row(tr("Video"), video_);
    form.row(QString(), choose_);
    about_ = named(softLabel({}), "overVideoAbout");
    about_->setWordWrap(true);
    form.wide(about_);
    place_ = named(new QComboBox, "overVideoPlace");
    place_->setAccessibleName(tr("Place"));
    for (std::size_t i = 0; i < stampPlaces.size(); ++i)
        place_->addItem(QString::fromUtf8(stampPlaces[i].data()).replace('-', ' '),
                        static_cast<int>(i));
    form.row(tr("Stands at"), place_);
    insetX_ = number(tr("Off the side"), "%", "overVideoInsetX", -50, 50, 1);
    insetY_ = number(tr("Off the top or bottom"), "%", "overVideoInsetY", -50, 50, 1);
    form.row(tr("Off the rim"), insetX_, insetY_);
    width_ = number(tr("Width, of the video's"), "%", "overVideoWidth", 0.5, 100, 1);
    opacity_ = number(tr("Opacity"), "%", "overVideoOpacity", 1, 100, 0);
    form.row(tr("Width"), width_);
    form.row(tr("Opacity"), opacity_);
    outline_ = number(tr("Outline"), tr("px"), "overVideoOutline", 0, 40, 1);
    form.row(tr("Outline"), outline_);
    from_ = number(tr("Comes at"), tr("s"), "overVideoFrom", 0, 864'000, 2);
    to_ = number(tr("Goes at"), tr("s"), "overVideoTo", 0, 864'000, 2);
    to_->setWordsForZero(tr("the end"));
    form.row(tr("Seen from, to"), from_, to_);
    fade_ = number(tr("Fades over"), tr("s"), "overVideoFade", 0, 3600, 2);
    form.row(tr("Fades over"), fade_);
    quality_ = number(tr("Quality"), tr("of 100"), "overVideoQuality", 0, 100, 0);
    quality_->setWordsForZero(tr("lossless"));
    limit_ = number(tr("Limit"), "MB", "overVideoLimit", 0, 100'000, 1);
    limit_->setWordsForZero(tr("none"));
    form.row(tr("Quality, limit"), quality_, limit_);
    form.wide(refusal_ = refusalLine());
    refusal_->setObjectName("overVideoRefusal");
    for (NumberField* field :
         {insetX_, insetY_, width_, opacity_, outline_, from_, to_, fade_, quality_, limit_})
        hear(field, refusal_);
}

QWidget* OverVideoDialog::buildForm() {
    auto* whole = new QWidget;
    whole->setFixedWidth(300);
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    auto* fields = new QWidget;
    Form form(fields);
    buildFields(form);
    column->addWidget(fields);
    outcome_ = named(softLabel({}), "overVideoOutcome");
    outcome_->setWordWrap(true);
    column->addWidget(outcome_);
    column->addStretch();
    progress_ = named(new QProgressBar, "overVideoProgress");
    column->addWidget(progress_);
    auto* buttons = new QHBoxLayout;
    cancel_ = named(new QPushButton(tr("Close")), "overVideoCancel");
    burn_ = named(new QPushButton(tr("Burn it in …")), "overVideoBurn");
    burn_->setProperty("primary", true);
    buttons->addWidget(cancel_);
    buttons->addWidget(burn_, 1);
    column->addLayout(buttons);
    return whole;
}

void OverVideoDialog::listen() {
    connect(choose_, &QPushButton::clicked, this, [this] {
        dialogs_.openFile(this, tr("Open a video"), videoFilter(),
                          [this](const QString& file) { openVideo(file); });
    });
    connect(video_, &QLineEdit::returnPressed, this, [this] { openVideo(video_->text()); });
    connect(place_, &QComboBox::activated, this, &OverVideoDialog::changed);
    connect(chart_, &LegibleChart::asked, this, [this](double at) {
        moved_ = true;
        at_ = at;
        chart_->showTime(at);
        look();
    });
    connect(cancel_, &QPushButton::clicked, this, &OverVideoDialog::reject);
    connect(burn_, &QPushButton::clicked, this, [this] {
        const Path file = desk_.file();
        const QString suggested = QString::fromStdString(
            (file.parent_path() / (stemOf(file) + "-marked" +
                                   (videoContainerBy(endingOf(file)) ? endingOf(file) : ".mp4")))
                .string());
        dialogs_.saveFile(this, tr("Burn it into a copy of the video"), suggested,
                          tr("Videos (*.mp4 *.mkv *.webm)"),
                          [this](const QString& chosen) { burnInto(chosen); });
    });
}

void OverVideoDialog::listenToDesk() {
    connect(&desk_, &OverVideoDesk::opened, this, [this] {
        remember();
        refresh();
        changed();
    });
    connect(&desk_, &OverVideoDesk::refused, this, [this](const QString& sentence) {
        refusal_->setText(sentence);
        refusal_->show();
        refresh();
    });
    connect(&desk_, &OverVideoDesk::lookedThrough, this, [this](double part) {
        if (part >= 1) return desk_.measure(wish());
        verdict_->setText(tr("Looking through the video … %1 %").arg(qRound(part * 100)));
    });
    connect(&desk_, &OverVideoDesk::measured, this, &OverVideoDialog::tell);
    connect(&desk_, &OverVideoDesk::shown, this, [this](const QImage& picture, double seconds) {
        picture_->setPixmap(QPixmap::fromImage(picture));
        chart_->showTime(seconds);
    });
    connect(&desk_, &OverVideoDesk::progressed, progress_,
            [this](double part) { progress_->setValue(static_cast<int>(100 * part)); });
    connect(&desk_, &OverVideoDesk::burnt, this, &OverVideoDialog::done);
}

void OverVideoDialog::openVideo(const QString& file) {
    if (file.trimmed().isEmpty()) return;
    video_->setText(file);
    refusal_->hide();
    moved_ = false;
    chart_->clear();
    verdict_->clear();
    desk_.open(file.toStdString());
    refresh();
}

// The ledge holds the piece against it from now on.
void OverVideoDialog::remember() {
    const Piece* piece = session_.piece();
    if (!piece || piece->video || !desk_.facts()) return;
    const PieceVideo video{rememberedAs(desk_.file(), session_.files().path()),
                           desk_.facts()->duration};
    session_.apply(withPieceVideo(session_.kit(), piece->id, video), tr("Remember the video"));
}

OverVideoWish OverVideoDialog::wish() const {
    OverVideoWish out;
    const PixelSize frame = desk_.facts() ? desk_.facts()->shown : PixelSize{1280, 720};
    out.placing.at = chosenIn<StampAt>(place_);
    out.placing.inset =
        RealPoint{insetX_->value() / 100 * frame.width, insetY_->value() / 100 * frame.height};
    out.placing.widthShare = width_->value() / 100;
    // A mark that would keep its own px is not resampled.
    if (std::abs(out.placing.widthShare * frame.width - desk_.markSize().width) < 0.5)
        out.placing.widthShare = 0;
    out.time.opacity = opacity_->value() / 100;
    out.time.from = from_->value();
    if (to_->value() > 0) out.time.to = to_->value();
    out.time.fade = fade_->value();
    out.outline = outline_->value();
    return out;
}

void OverVideoDialog::changed() {
    if (filling_ || !desk_.facts()) return;
    const auto good = checkMarkTime(wish().time, desk_.facts()->duration);
    refusal_->setVisible(!good);
    if (!good) refusal_->setText(QString::fromStdString(good.error().sentence()));
    burn_->setEnabled(good && !desk_.burning());
    if (!good) return;
    desk_.measure(wish());
    look();
}

void OverVideoDialog::look() {
    desk_.showAt(at_, wish(), picture_->size() * devicePixelRatioF());
}

void OverVideoDialog::reject() {
    if (desk_.burning()) return desk_.cancel();
    QDialog::reject();
}

void OverVideoDialog::resizeEvent(QResizeEvent* event) {
    QDialog::resizeEvent(event);
    look();
}

void OverVideoDialog::tell(const Legibility& legibility) {
    const LegibleCurve& curve = legibility.curve;
    chart_->show(curve, desk_.facts() ? desk_.facts()->duration : 0);
    const auto worst = curve.worst();
    if (!worst) return;
    const QString word = curve.verdict() == Verdict::pass    ? tr("pass")
                         : curve.verdict() == Verdict::watch ? tr("watch")
                                                             : tr("fail");
    verdict_->setText(tr("%1: %2 It hides up to %3 % of what is seen.")
                          .arg(word, QString::fromStdString(
                                         english({"legible.told",
                                                  {std::floor(100 * (1 - curve.lost())),
                                                   worst->time, std::floor(100 * worst->share)}})))
                          .arg(qRound(100 * curve.mostHidden())));
    // The worst moment is what is looked at first.
    if (!moved_) {
        at_ = worst->time;
        look();
    }
    offer(legibility.proposals);
}

void OverVideoDialog::offer(const std::vector<LegibleProposal>& proposals) {
    while (QLayoutItem* item = proposalRows_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    int index = 0;
    for (const LegibleProposal& proposal : proposals) {
        auto* row = new QWidget;
        auto* line = new QHBoxLayout(row);
        line->setContentsMargins(0, 0, 0, 0);
        auto* words = softLabel(QString::fromStdString(english(proposal.says)));
        words->setWordWrap(true);
        auto* button = new QPushButton(tr("Do it"));
        button->setObjectName(QString("overVideoDo%1").arg(index++));
        button->setAccessibleDescription(words->text());
        button->setFixedWidth(72);
        button->setAutoDefault(false);
        line->addWidget(words, 1);
        line->addWidget(button);
        connect(button, &QPushButton::clicked, this, [this, proposal] { take(proposal); });
        proposalRows_->addWidget(row);
    }
}

void OverVideoDialog::take(const LegibleProposal& proposal) {
    switch (proposal.kind) {
        case LegibleProposal::Kind::corner:
            choose(place_, proposal.at);
            break;
        case LegibleProposal::Kind::outline: {
            // Told in px of the mark; the field is in px of the video.
            const PixelSize frame = desk_.facts()->shown;
            const RealRect place = placeOf(wish().placing, desk_.markSize(), frame);
            outline_->show(proposal.px * place.width / std::max(1, desk_.markSize().width));
            break;
        }
        case LegibleProposal::Kind::start:
            from_->show(proposal.from);
            break;
    }
    moved_ = false;
    changed();
}

void OverVideoDialog::refresh() {
    const auto& facts = desk_.facts();
    about_->setText(
        facts
            ? tr("%1 × %2, %3 s. The copy is encoded anew; its sound, chapters and times are kept "
                 "as they are. A host that lays a mark on by itself needs no copy, and its mark "
                 "can be changed later.")
                  .arg(facts->shown.width)
                  .arg(facts->shown.height)
                  .arg(facts->duration, 0, 'f', 1)
            : QString());
    const bool burning = desk_.burning();
    burn_->setEnabled(facts && !burning);
    burn_->setToolTip(facts ? QString() : tr("Choose a video first."));
    cancel_->setText(burning ? tr("Cancel") : tr("Close"));
    progress_->setVisible(burning);
}

void OverVideoDialog::burnInto(const QString& file) {
    if (file.isEmpty()) return;
    out_ = file.toStdString();
    // Who names a file that is there was asked about it by the dialog that chose it, by that name.
    const bool whole = videoContainerBy(endingOf(out_)).has_value();
    if (!whole) out_ += ".mp4";
    refusal_->hide();
    outcome_->clear();
    progress_->setValue(0);
    desk_.burn(wish(), static_cast<int>(quality_->value()),
               static_cast<long long>(limit_->value() * 1e6), out_,
               whole ? Replace::yes : Replace::no);
    refresh();
}

void OverVideoDialog::done(const Result<Burnt>& burnt) {
    refresh();
    if (!burnt) {
        const bool cancelled = burnt.error().code == Code::cancelled;
        refusal_->setText(cancelled ? tr("Cancelled; nothing was written.")
                                    : QString::fromStdString(burnt.error().sentence()));
        refusal_->show();
        return;
    }
    QString words = tr("%1: %2 bytes, the mark on %3 of %4 frames.")
                        .arg(QString::fromStdString(out_.filename().string()),
                             QString::fromStdString(grouped(burnt->bytes)),
                             QString::number(burnt->marked), QString::number(burnt->frames));
    for (const std::string& left : burnt->left)
        words += tr(" Left out: %1.").arg(QString::fromStdString(left));
    outcome_->setText(words);
    session_.tell(words, false);
}

}  // namespace zl::app
