// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamping/stamping_view.h"

#include <QCheckBox>
#include <QDragEnterEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QMimeData>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

#include "look/theme.h"
#include "widgets/form.h"
#include "widgets/pages.h"
#include "widgets/panel.h"
#include "work/dropped_files.h"

namespace zl::app {
namespace {

constexpr int photosWidth = 336, sizesHeight = 132;

}  // namespace

StampingView::StampingView(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), desk_(session) {
    setObjectName("stampingView");
    setAcceptDrops(true);
    bench_ = new StampBench(session, desk_);
    foot_ = new RunFoot(desk_);
    foot_->complete = [this](RunAsked& asked) { bench_->complete(asked); };
    connect(bench_, &StampBench::runChanged, foot_, &RunFoot::refresh);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(buildPhotos());
    row->addWidget(buildMiddle(), 1);
    connect(&desk_, &StampDesk::photosChanged, this, &StampingView::refresh);
    connect(&desk_, &StampDesk::photoChanged, this, [this](int photo) {
        refresh();
        if (photo == desk_.now()) tellPhoto();
    });
    connect(&desk_, &StampDesk::chosen, this, &StampingView::tellPhoto);
    connect(&desk_, &StampDesk::sizesChanged, this, &StampingView::fillSizes);
    connect(preview_, &StampPreview::dragged, bench_, &StampBench::placeAt);
    refresh();
    tellPhoto();
    fillSizes();
}

QWidget* StampingView::buildPhotos() {
    auto* whole = new QWidget;
    whole->setObjectName("stampPhotos");
    whole->setFixedWidth(photosWidth);
    whole->setAutoFillBackground(true);
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    const auto [bar, row] = viewBar(14, 10);
    headline_ = named(new QLabel, "stampHeadline");
    row->addWidget(headline_);
    row->addStretch();
    const auto button = [&, row = row](const QString& words, const char* id, const auto& run) {
        auto* made = named(new QPushButton(words), id);
        made->setFixedHeight(24);
        row->addWidget(made);
        connect(made, &QPushButton::clicked, this, run);
        return made;
    };
    button(tr("Files…"), "stampFiles", [this] {
        Q_EMIT filesAsked();
    })->setToolTip(tr("Add photographs"));
    button(tr("Folder…"), "stampFolderIn", [this] {
        Q_EMIT folderAsked();
    })->setToolTip(tr("Add a folder of photographs"));
    clear_ = button(tr("Clear"), "stampClear", [this] { desk_.removeAll(); });
    clear_->setToolTip(tr("Takes the photographs off this list; the files stay"));
    column->addWidget(bar);
    pages_ = new Pages;
    auto* empty =
        new QLabel(tr("Drop photographs or folders here.\n\nThey are only read: marked "
                      "copies go into a folder of their own."));
    empty->setObjectName("stampEmpty");
    empty->setProperty("soft", true);
    empty->setWordWrap(true);
    empty->setAlignment(Qt::AlignCenter);
    empty->setContentsMargins(36, 0, 36, 60);
    pages_->addWidget(empty);
    pages_->addWidget(grid_ = new PhotoGrid(desk_));
    column->addWidget(pages_, 1);
    deep_ = named(new QCheckBox(tr("Folders with what lies below them")), "stampDeep");
    deep_->setChecked(true);
    deep_->setContentsMargins(14, 0, 0, 0);
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(14, 6, 14, 8);
    foot->addWidget(deep_);
    column->addLayout(foot);
    return whole;
}

bool StampingView::withSubfolders() const {
    return deep_->isChecked();
}

QWidget* StampingView::buildMiddle() {
    auto* whole = new QWidget;
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    const auto [bar, row] = viewBar(16, 12);
    name_ = named(new QLabel, "stampPhotoName");
    name_->setTextFormat(Qt::RichText);
    name_->setMinimumWidth(80);
    row->addWidget(name_, 1);
    auto* exact = named(new QPushButton(tr("True pixels")), "stampTruePixels");
    exact->setCheckable(true);
    exact->setFixedHeight(24);
    exact->setToolTip(tr("Round the mark, a pixel of the photograph on a pixel of the screen"));
    row->addWidget(exact);
    onto_ = named(new QPushButton(tr("Onto the piece")), "stampOnto");
    onto_->setFixedHeight(24);
    onto_->setToolTip(tr("Lays this stamp onto the chosen piece, as a layer of its own"));
    row->addWidget(onto_);
    column->addWidget(bar);
    column->addWidget(preview_ = new StampPreview(desk_), 1);
    column->addWidget(buildVerdict());
    sizes_ = named(new QWidget, "stampSizes");
    sizes_->setAutoFillBackground(true);
    sizes_->setFixedHeight(sizesHeight);
    new QHBoxLayout(sizes_);
    column->addWidget(sizes_);
    connect(exact, &QPushButton::toggled, preview_, &StampPreview::setTruePixels);
    connect(onto_, &QPushButton::clicked, this, &StampingView::putOnPiece);
    connect(&session_, &Session::chosen, this, &StampingView::refresh);
    connect(&session_, &Session::kitChanged, this, &StampingView::refresh);
    return whole;
}

void StampingView::refresh() {
    const int count = static_cast<int>(desk_.photos().size());
    headline_->setText(count == 0 ? tr("Photographs")
                                  : counted(count, tr("1 photo"), tr("%1 photos")));
    pages_->setCurrentIndex(count == 0 ? 0 : 1);
    clear_->setEnabled(count > 0 && !desk_.running());
    onto_->setEnabled(session_.piece() != nullptr);
}

// The reading of the chosen photograph, its verdict's shape before it.
QWidget* StampingView::buildVerdict() {
    class Shape : public QWidget {
      public:
        explicit Shape(StampDesk& desk) : desk_(desk) { setFixedSize(13, 13); }

      protected:
        void paintEvent(QPaintEvent*) override {
            if (desk_.now() < 0) return;
            const StampPhoto& photo = desk_.photos()[static_cast<std::size_t>(desk_.now())];
            QPainter painter(this);
            painter.setRenderHint(QPainter::Antialiasing);
            if (photo.measured) drawVerdict(painter, QRectF(0, 0, 13, 13), photo.verdict, false);
        }

      private:
        StampDesk& desk_;
    };
    auto* whole = new QWidget;
    whole->setAutoFillBackground(true);
    auto* row = new QHBoxLayout(whole);
    row->setContentsMargins(16, 8, 16, 8);
    row->setSpacing(8);
    row->addWidget(verdict_ = new Shape(desk_));
    says_ = named(new QLabel, "stampSays");
    says_->setWordWrap(true);
    says_->setMinimumHeight(20);
    row->addWidget(says_, 1);
    return whole;
}

void StampingView::tellPhoto() {
    verdict_->update();
    if (desk_.now() < 0 || desk_.now() >= static_cast<int>(desk_.photos().size())) {
        name_->clear();
        says_->clear();
        return;
    }
    const StampPhoto& photo = desk_.photos()[static_cast<std::size_t>(desk_.now())];
    const QString name = QString::fromStdString(photo.file.filename().string());
    name_->setText(
        photo.size.empty()
            ? heavy(name)
            : heavy(name) +
                  tr("&nbsp;&nbsp;%1 × %2 px").arg(photo.size.width).arg(photo.size.height));
    says_->setText(photo.choice.leftOut ? tr("It is left out: no marked copy is made.")
                   : photo.measured     ? photo.says
                                        : tr("Being measured"));
}

// What has one size of mark on all shapes is seen side by side.
void StampingView::fillSizes() {
    auto* row = static_cast<QHBoxLayout*>(sizes_->layout());
    row->setContentsMargins(16, 10, 16, 10);
    row->setSpacing(12);
    while (QLayoutItem* item = row->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    sizes_->setVisible(desk_.sizes().size() > 1);
    // As high as lets all of them stand there.
    double shapes = 0;
    for (const QImage& image : desk_.sizes()) shapes += double(image.width()) / image.height();
    const double room = sizes_->width() - 32 - 12 * static_cast<double>(desk_.sizes().size() - 1);
    const int height =
        static_cast<int>(std::min<double>(sizesHeight - 20, room / std::max(1.0, shapes)));
    for (const QImage& image : desk_.sizes()) {
        auto* label = new QLabel;
        QPixmap pixmap = QPixmap::fromImage(image.scaledToHeight(
            static_cast<int>(std::max(8, height) * devicePixelRatioF()), Qt::SmoothTransformation));
        pixmap.setDevicePixelRatio(devicePixelRatioF());
        label->setPixmap(pixmap);
        label->setAccessibleName(tr("A photograph of another shape or size"));
        row->addWidget(label);
    }
    row->addStretch();
}

void StampingView::putOnPiece() {
    AsideEdit edit;
    edit.what = tr("Stamp");
    edit.make = [id = session_.piece()->id, stamp = desk_.stamp(), home = desk_.home()](
                    const Kit& kit, const std::stop_token&) {
        return withStampOn(kit, id, stamp, home);
    };
    edit.applied = [this] { Q_EMIT stamped(); };
    session_.applyAside(std::move(edit));
}

void StampingView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    fillSizes();
}

void StampingView::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void StampingView::dropEvent(QDropEvent* event) {
    const std::vector<Path> files = droppedFiles(*event->mimeData());
    if (!files.empty()) desk_.add(files, withSubfolders());
    event->acceptProposedAction();
}

}  // namespace zl::app
