// SPDX-License-Identifier: GPL-3.0-or-later
// Gauge: the piece as a release would write it, on four backdrops, its edge map and its bare alpha
// or colour, under one zoom and pan; what lies under the pointer; a slice through the edge; the
// findings by harm with their mends.
#pragma once

#include <QTimer>
#include <QWidget>
#include <array>

#include "gauge/gauge_pane.h"
#include "widgets/fields.h"
#include "work/jobs.h"
#include "work/readings_desk.h"
#include "work/session.h"

class QComboBox;
class QLabel;
class QToolButton;
class QScrollArea;
class QVBoxLayout;

namespace zl::app {

class GaugeView : public QWidget {
    Q_OBJECT
  public:
    GaugeView(Session& session, ReadingsDesk& desk, QWidget* bench, QWidget* parent = nullptr);
    void refresh();
    // Brings a place of the frame into the middle, large enough to judge.
    void goTo(const PixelRect& place);
    // The kit before the last mend: holding B shows it.
    void rememberBefore(const Kit& kit) { before_ = kit; }
    bool showsBefore() const { return showingBefore_; }
    // Whether the panes show the frame that was measured last.
    bool isCurrent() const;
    GaugePane& pane(int i) { return *panes_[static_cast<std::size_t>(i)]; }
    static constexpr int paneCount = 6;

  Q_SIGNALS:
    void placeAsked(const zl::Finding& finding);
    void mendAsked(const QString& mendId);

  protected:
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    void buildPanes();
    void buildBench(QWidget* bench);
    QWidget* cardOf(const Reading& reading);
    QToolButton* showButton(const Reading& reading);
    QWidget* mendButtons(const Reading& reading);
    void focusFirstMend();
    void take(const std::string& pieceId);
    void prepare(std::shared_ptr<const Straight8> frame, std::vector<EdgeMark> marks, bool before);
    void showBefore(bool on);
    void fillFindings();
    void addFindings();
    void paintPanes();
    void moveTo(const GaugeMapping& mapping);
    void readUnder(RealPoint frame);
    void readSlice(RealPoint from, RealPoint to);
    QWidget* buildBar();

    Session& session_;
    ReadingsDesk& desk_;
    std::array<GaugePane*, paneCount> panes_;
    GaugeMapping mapping_;
    std::shared_ptr<const GaugeFrame> frame_;
    std::shared_ptr<const Straight8> preparedOf_;
    std::optional<Kit> before_;
    bool showingBefore_ = false;
    std::string pieceShown_;
    QComboBox *photo_, *bare_;
    ColourField* own_;
    Colour ownColour_{180, 71, 47, 255};
    QLabel *empty_, *words_, *under_, *zoomWords_, *legend_;
    QVBoxLayout* findings_;
    std::vector<Reading> due_;  // findings without a card yet, the worst last
    QTimer dueTurn_;
    bool focusDue_ = false;  // it was in the findings that are made anew
    QWidget* findingsBody_;
    QWidget* panesBody_;
    GaugeLens* lens_;
    GaugeSlice* slice_;
    LatestJob preparing_{true}, beforeJob_{true};
};

}  // namespace zl::app
