// SPDX-License-Identifier: GPL-3.0-or-later
// What each format would give, a row a format, the bytes as a bar against the limit; under it the
// chosen row side by side with the piece. Rows are encoded aside; a row is chosen by a click or by
// the arrows.
#pragma once

#include <QImage>
#include <QWidget>
#include <memory>
#include <optional>
#include <vector>

#include "release/table.h"
#include "work/jobs.h"

namespace zl::app {

class ReleaseTable : public QWidget {
    Q_OBJECT
  public:
    explicit ReleaseTable(QWidget* parent = nullptr);

    // Encodes the rows of that frame unless it has done so; nothing: an empty table with those
    // words.
    void ask(std::shared_ptr<const Straight8> frame, const Brief& brief,
             const std::optional<Colour>& matte);
    void clear(const QString& words);
    void stop();
    // The row that the piece's release choice stands for; -1: none of them.
    void choose(int row);
    int rowCount() const { return static_cast<int>(asked_.size()); }
    int ready() const;  // rows that are there
    bool running() const { return running_; }
    const TableRow* row(int index) const {
        return index >= 0 && index < rowCount() && rows_[static_cast<std::size_t>(index)]
                   ? &*rows_[static_cast<std::size_t>(index)]
                   : nullptr;
    }
    int bestRow() const;
    QRect rowRect(int index) const;
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return {400, 100}; }

  Q_SIGNALS:
    void rowAsked(int row);  // the person chose it
    void progressed();

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

  private:
    void look();
    void paintBar(QPainter& painter, const TableRow& row, const QRect& at) const;
    void paintRow(QPainter& painter, int index) const;
    std::shared_ptr<const Straight8> frame_;
    std::optional<Colour> matte_;
    std::string briefId_;
    std::optional<long long> limit_;
    std::vector<Encoding> asked_;
    std::vector<std::optional<TableRow>> rows_;
    QString words_;
    int chosen_ = -1;
    bool running_ = false;
    int serial_ = 0;
    struct Previews {
        QImage piece, file, difference;
    };
    std::optional<Previews> look_;
    LatestJob job_{true}, lookJob_{true};
};

}  // namespace zl::app
