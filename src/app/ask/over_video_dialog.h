// SPDX-License-Identifier: GPL-3.0-or-later
// The chosen piece over a video of one's own: how it looks there, whether it stands out for the
// whole of it, and a copy of the video with it burned in.
#pragma once

#include <QDialog>

#include "ask/dialogs.h"
#include "widgets/legible_chart.h"
#include "work/over_video_desk.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QVBoxLayout;

namespace zl::app {

class Form;
class NumberField;

class OverVideoDialog : public QDialog {
    Q_OBJECT
  public:
    OverVideoDialog(Session& session, Dialogs& dialogs, QWidget* parent = nullptr);
    void openVideo(const QString& file);
    OverVideoDesk& desk() { return desk_; }
    // Burns into this file, as the button does once a name was given.
    void burnInto(const QString& file);
    // While it burns, closing cancels that and leaves the dialog open.
    void reject() override;

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    QWidget* buildLook();
    QWidget* buildForm();
    void buildFields(Form& form);
    NumberField* number(const QString& caption, const QString& unit, const char* id, double low,
                        double high, int decimals);
    void listen();
    void listenToDesk();
    OverVideoWish wish() const;
    void changed();
    void look();
    void tell(const Legibility& legibility);
    void offer(const std::vector<LegibleProposal>& proposals);
    void take(const LegibleProposal& proposal);
    void refresh();
    void remember();
    void done(const Result<Burnt>& burnt);

    Session& session_;
    Dialogs& dialogs_;
    OverVideoDesk desk_;
    QLabel *picture_, *verdict_, *about_, *refusal_, *outcome_;
    LegibleChart* chart_;
    QWidget* proposals_;
    QVBoxLayout* proposalRows_;
    QLineEdit* video_;
    QComboBox* place_;
    NumberField *insetX_, *insetY_, *width_, *opacity_, *outline_, *from_, *to_, *fade_, *quality_,
        *limit_;
    QProgressBar* progress_;
    QPushButton *burn_, *cancel_, *choose_;
    double at_ = 0;
    bool filling_ = false, moved_ = false;  // the person chose a moment
    Path out_;
};

}  // namespace zl::app
