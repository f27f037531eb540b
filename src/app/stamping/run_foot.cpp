// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamping/run_foot.h"

#include <QComboBox>
#include <QDir>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

#include "look/theme.h"
#include "widgets/fields.h"
#include "widgets/form.h"

namespace zl::app {
namespace {

enum class FormatOfRun { own, jpeg, png, webp };

QString folderKept() {
    return QSettings().value("stampFolder", QDir::home().filePath("Marked photographs")).toString();
}

QWidget* captioned(const QString& caption, QWidget* field, int width = 0) {
    auto* whole = new QWidget;
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    QLabel* label = softLabel(caption);
    label->setFont(interfaceFont(11));
    column->addStretch();
    column->addWidget(label);
    field->setFixedHeight(30);
    column->addWidget(field);
    column->addStretch();
    field->setAccessibleName(caption);
    if (width > 0) whole->setFixedWidth(width);
    return whole;
}

QString secondsWords(double seconds) {
    const int s = static_cast<int>(std::lround(seconds));
    return s >= 60 ? RunFoot::tr("about %1 min left").arg((s + 30) / 60)
                   : RunFoot::tr("about %1 s left").arg(std::max(1, s));
}

}  // namespace

RunFoot::RunFoot(StampDesk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setObjectName("runFoot");
    setFixedHeight(ledgeHeight);
    setAutoFillBackground(true);
    setProperty("onLedge", true);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 8, 16, 10);
    row->setSpacing(20);
    row->addWidget(buildChoices(), 1);
    row->addWidget(buildProgress());
    connect(&desk_, &StampDesk::runChanged, this, &RunFoot::refresh);
    connect(&desk_, &StampDesk::photosChanged, this, &RunFoot::refresh);
    connect(&desk_, &StampDesk::photoChanged, this, &RunFoot::refresh);
    connect(&desk_, &StampDesk::progressed, this, [this](int done, int of, double left) {
        bar_->setMaximum(of);
        bar_->setValue(done);
        left_->setText(tr("%1 of %2, %3").arg(done).arg(of).arg(secondsWords(left)));
    });
    setFolder(folderKept());
}

QWidget* RunFoot::buildChoices() {
    auto* whole = new QWidget;
    auto* row = new QHBoxLayout(whole);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(10);
    folder_ = named(new PathField, "stampFolder");
    auto* browse = named(new QPushButton("…"), "stampFolderBrowse");
    browse->setAccessibleName(tr("Choose the folder"));
    browse->setFixedWidth(34);
    auto* both = new QWidget;
    auto* line = new QHBoxLayout(both);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(4);
    line->addWidget(folder_, 1);
    line->addWidget(browse);
    row->addWidget(captioned(tr("Into"), both), 1);
    folder_->setAccessibleName(tr("Folder of the marked photographs"));
    name_ = named(new QLineEdit("{name}-marked"), "stampName");
    name_->setToolTip(tr("{name}, {n}, {date} and {year} are put in for each photograph"));
    row->addWidget(captioned(tr("Called"), name_, 124));
    format_ = named(new QComboBox, "stampFormat");
    offer<FormatOfRun>(format_, {{tr("as it is"), FormatOfRun::own},
                                 {tr("JPEG"), FormatOfRun::jpeg},
                                 {tr("PNG"), FormatOfRun::png},
                                 {tr("WebP"), FormatOfRun::webp}});
    row->addWidget(captioned(tr("Format"), format_, 84));
    size_ = named(new QComboBox, "stampResize");
    size_->addItem(tr("as it is"), QSize());
    for (const QSize side : {QSize(2048, 2048), QSize(1600, 1600), QSize(1200, 1200)})
        size_->addItem(tr("inside %1 px").arg(side.width()), side);
    row->addWidget(captioned(tr("Size"), size_, 116));
    tags_ = named(new QComboBox, "stampTags");
    tags_->setToolTip(tr("Place and serial numbers go unless all of it is kept"));
    offer<KeepTags>(tags_, {{tr("author, rights"), KeepTags::author},
                            {tr("all"), KeepTags::all},
                            {tr("none"), KeepTags::none}});
    row->addWidget(captioned(tr("Metadata"), tags_, 132));
    for (QComboBox* box : {format_, size_})
        connect(box, &QComboBox::activated, this, &RunFoot::refresh);
    connect(browse, &QPushButton::clicked, this, &RunFoot::folderAsked);
    connect(folder_, &QLineEdit::editingFinished, this, [this] { setFolder(folder_->text()); });
    return whole;
}

QWidget* RunFoot::buildProgress() {
    auto* whole = new QWidget;
    whole->setFixedWidth(324);
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    words_ = named(new QLabel, "stampRunWords");
    words_->setFont(interfaceFont(11));
    left_ = named(new QLabel, "stampLeft");
    left_->setFont(interfaceFont(11));
    auto* texts = new QHBoxLayout;
    texts->addWidget(words_, 1);
    texts->addWidget(left_);
    column->addLayout(texts);
    bar_ = named(new QProgressBar, "stampProgress");
    bar_->setTextVisible(false);
    bar_->setFixedHeight(6);
    column->addWidget(bar_);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    const auto button = [&](const QString& words, const char* id, const auto& run) {
        auto* made = named(new QPushButton(words), id);
        row->addWidget(made);
        connect(made, &QPushButton::clicked, this, run);
        return made;
    };
    row->addStretch();
    undo_ = button(tr("Undo the run"), "stampUndo", [this] { desk_.undoRun(); });
    report_ = button(tr("Report"), "stampReport", [this] {
        if (desk_.outcome())
            Q_EMIT reportAsked(QString::fromStdString(desk_.outcome()->report.string()));
    });
    cancel_ = button(tr("Cancel"), "stampCancel", [this] {
        desk_.pause(false);
        desk_.cancelRun();
    });
    pause_ = button(tr("Pause"), "stampPause", [this] { desk_.pause(!desk_.paused()); });
    resume_ = button(tr("Go on"), "stampResume", [this] { run(true); });
    run_ = button(tr("Mark"), "stampRun", [this] { run(false); });
    run_->setProperty("primary", true);
    column->addLayout(row);
    return whole;
}

void RunFoot::setFolder(const QString& folder) {
    const QString whole = wholePath(folder);
    if (folder_->text() != whole) folder_->setText(whole);
    QSettings().setValue("stampFolder", whole);
    refresh();
}

RunAsked RunFoot::asked() const {
    RunAsked asked;
    asked.out = folder_->text().trimmed().toStdString();
    asked.name = name_->text().trimmed().toStdString();
    asked.jobs = coreCount();
    switch (chosenIn<FormatOfRun>(format_)) {
        case FormatOfRun::own:
            break;
        case FormatOfRun::jpeg:
            asked.photo.format = Content::jpeg;
            break;
        case FormatOfRun::png:
            asked.photo.format = Content::png;
            break;
        case FormatOfRun::webp:
            asked.photo.format = Content::webp;
            break;
    }
    if (const QSize size = size_->currentData().toSize(); size.isValid())
        asked.photo.within = PixelSize{size.width(), size.height()};
    asked.photo.keep = chosenIn<KeepTags>(tags_);
    if (complete) complete(asked);
    return asked;
}

void RunFoot::run(bool resume) {
    RunAsked run = asked();
    run.resume = resume;
    if (run.out.empty()) {
        Q_EMIT refused(tr("Choose a folder for the marked photographs."));
        return;
    }
    bar_->setValue(0);
    left_->clear();
    desk_.run(std::move(run));
}

void RunFoot::refresh() {
    const bool running = desk_.running(), some = !desk_.photos().empty();
    const bool unfinished = !running && desk_.unfinishedIn(folder_->text().trimmed().toStdString());
    for (QWidget* field : {static_cast<QWidget*>(folder_), static_cast<QWidget*>(name_),
                           static_cast<QWidget*>(format_), static_cast<QWidget*>(size_),
                           static_cast<QWidget*>(tags_)})
        field->setEnabled(!running);
    run_->setVisible(!running && !unfinished);
    run_->setEnabled(some && !desk_.measuring());
    run_->setToolTip(some ? QString() : tr("There are no photographs to be marked."));
    resume_->setVisible(unfinished);
    resume_->setEnabled(some);
    pause_->setVisible(running);
    pause_->setText(desk_.paused() ? tr("Go on") : tr("Pause"));
    cancel_->setVisible(running);
    bar_->setVisible(running);
    left_->setVisible(running);
    const bool ended = !running && desk_.outcome().has_value();
    report_->setVisible(ended);
    undo_->setVisible(ended);
    tell();
}

void RunFoot::tell() {
    if (desk_.running()) return words_->setText(desk_.paused() ? tr("Paused") : tr("Marking"));
    if (const auto& outcome = desk_.outcome()) {
        const int failed = outcome->count(JobState::failed);
        words_->setText(
            failed > 0
                ? tr("%1 marked, %2 could not be.").arg(outcome->count(JobState::done)).arg(failed)
                : tr("%1 marked; the originals are as they were.")
                      .arg(outcome->count(JobState::done)));
        return;
    }
    const int all = static_cast<int>(desk_.photos().size());
    if (all == 0) return words_->setText(tr("No photographs yet."));
    const int left = static_cast<int>(
        std::count_if(desk_.photos().begin(), desk_.photos().end(),
                      [](const StampPhoto& photo) { return photo.choice.leftOut || photo.bad; }));
    if (desk_.measuring())
        words_->setText(tr("%1 of %2 measured").arg(desk_.measuredCount()).arg(all));
    else {
        const QString photos = counted(all, tr("1 photo"), tr("%1 photos"));
        words_->setText(left > 0 ? tr("%1, %2 not marked").arg(photos).arg(left) : photos);
    }
    const PhotoAsked photo = asked().photo;
    const auto blocks = std::count_if(
        desk_.photos().begin(), desk_.photos().end(),
        [](const StampPhoto& p) { return p.inBlocks && !p.bad && !p.choice.leftOut; });
    const bool own = !photo.within && photo.quality == 0 &&
                     photo.format.value_or(Content::jpeg) == Content::jpeg && !photo.limit;
    left_->setVisible(own && blocks > 0 && !desk_.measuring());
    left_->setText(
        counted(blocks, tr("1 JPEG not encoded again"), tr("%1 JPEGs not encoded again")));
}

}  // namespace zl::app
