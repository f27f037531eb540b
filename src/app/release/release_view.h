// SPDX-License-Identifier: GPL-3.0-or-later
// Release: what was tried and what it weighs, the file's name and folder, the receipt. And
// Rehearse: the stand-in host's answer and the surfaces.
#pragma once

#include <QElapsedTimer>
#include <QWidget>

#include "release/moving_list.h"
#include "release/release.h"
#include "release/release_table.h"
#include "widgets/fields.h"
#include "work/readings_desk.h"
#include "work/session.h"

class QComboBox;
class QLabel;
class QProgressBar;
class QPushButton;
class QStackedWidget;

namespace zl::app {

class ReleaseView : public QWidget {
    Q_OBJECT
  public:
    ReleaseView(Session& session, ReadingsDesk& desk, QWidget* bench, QWidget* parent = nullptr);
    void release();
    void releaseReady();  // every piece without a failing reading
    // The file released last in this run, for a piece.
    std::optional<Path> released(const std::string& pieceId) const;

  Q_SIGNALS:
    void handOverAsked();
    void folderAsked();  // wants a folder from the person

  public Q_SLOTS:
    void setFolder(const QString& folder);

  protected:
    void showEvent(QShowEvent* event) override;

  private:
    void buildBench(QWidget* bench);
    void listen();
    void listenToChoices();
    void tellTable(bool current);
    void tellReady();
    void fillChoices(const Piece& piece, const PieceState* state);
    struct Sent {
        Released released;
        Piece piece;  // as it was then
    };
    void tellReceipt(const Sent& sent);
    void refreshMoving(const Piece& piece, const PieceState* state);
    void tellProgress(double part);
    void refresh();
    void changeChoice(const QString& what, const std::function<void(ReleaseChoice&)>& change);
    void finish(const Piece& piece, int kit, Result<Released> result);
    void setRunning(bool running);
    void fillTable();
    int rowOfChoice(const ReleaseChoice& choice) const;
    void chooseRow(int row);

    Session& session_;
    ReadingsDesk& desk_;
    bool moving() const;  // the chosen piece moves
    ReleaseTable* table_;
    std::string tableOf_;    // the piece whose formats stand in it
    QStackedWidget* pages_;  // the table, or what a moving piece may become
    MovingList* kinds_;
    QLabel* headline_;
    QLineEdit *name_, *folder_;
    QLabel* nameNote_;
    QComboBox* format_;
    NumberField* quality_;
    ColourField* matte_;
    QWidget* matteRow_;
    QPushButton *release_, *cancel_, *handOver_, *stopTable_, *releaseReady_;
    QLabel* readyWords_;
    QProgressBar* progress_;
    QLabel *receipt_, *refusal_;
    std::map<std::string, Sent> releases_;  // by the piece's id
    int kit_ = 0;                           // counts the kits that were opened
    std::stop_source stop_;
    QElapsedTimer since_;  // the release began
    bool running_ = false, filling_ = false, replaceAsked_ = false;
};

}  // namespace zl::app
