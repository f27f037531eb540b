// SPDX-License-Identifier: GPL-3.0-or-later
// Release: what was tried and what it weighs, the file's name and folder, the receipt. And Rehearse: the stand-in host's
// answer and the surfaces.
#pragma once

#include <QWidget>

#include "fields.h"
#include "readings_desk.h"
#include "release/release.h"
#include "session.h"

class QComboBox;
class QLabel;
class QProgressBar;
class QPushButton;

namespace zl::app {

// The table of what was tried, each row a bar against the limit.
class TriedTable : public QWidget {
    Q_OBJECT
  public:
    explicit TriedTable(QWidget* parent = nullptr);
    void show(const PieceState* state, const Brief* brief, bool current);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return {400, 100}; }
    int rowCount() const { return static_cast<int>(rows_.size()); }

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    struct Row {
        QString name, bytes, words;
        double share = 0;  // of the limit
        bool fits = false, chosen = false;
    };
    std::vector<Row> rows_;
    QString limit_, caption_;
    QImage written_;
    bool measuring_ = false;
};

class ReleaseView : public QWidget {
    Q_OBJECT
  public:
    ReleaseView(Session& session, ReadingsDesk& desk, QWidget* bench, QWidget* parent = nullptr);
    void release();
    // The file released last in this run, for a piece.
    std::optional<Path> released(const std::string& pieceId) const;

  Q_SIGNALS:
    void handOverAsked();
    void folderAsked();  // wants a folder from the person

  public Q_SLOTS:
    void setFolder(const QString& folder);

  private:
    void refresh();
    void changeChoice(const QString& what, const std::function<void(ReleaseChoice&)>& change);
    void finish(const Piece& piece, Result<Released> result);
    void setRunning(bool running);

    Session& session_;
    ReadingsDesk& desk_;
    TriedTable* table_;
    QLabel* headline_;
    QLineEdit *name_, *folder_;
    QLabel* nameNote_;
    QComboBox* format_;
    NumberField* quality_;
    ColourField* matte_;
    QWidget* matteRow_;
    QPushButton *release_, *cancel_, *handOver_;
    QProgressBar* progress_;
    QLabel *receipt_, *refusal_;
    std::map<std::string, Released> releases_;
    std::stop_source stop_;
    bool running_ = false, filling_ = false, replaceAsked_ = false;
};

}  // namespace zl::app
