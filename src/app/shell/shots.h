// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures of the main views with the demo kit, for the documents: each view is brought up as a
// person would see it.
#pragma once

#include <QObject>
#include <QString>
#include <functional>
#include <vector>

#include "shell/main_window.h"

namespace zl::app {

class Shots : public QObject {
    Q_OBJECT
  public:
    // `work` is a folder for what the views write on the way; the caller removes it.
    Shots(MainWindow& window, const QString& folder, const QString& work);

  private:
    struct Step {
        QString name;  // file name; empty: no picture
        std::function<void()> before;
        std::function<bool()> ready;
    };
    void addMakeSteps();
    void addMoreMakeSteps();
    void addGaugeSteps();
    void addDestinationSteps();
    void addStampingSteps();
    bool stamping() const;  // the photographs are measured
    bool subjectSolved() const;
    bool measured() const;  // all pieces
    QWidget* child(const char* name) const;
    void click(const char* name) const;
    void scrollTo(const char* name) const;
    QDialog* dialogOf(const char* name) const;            // one that is open
    void choose(const char* piece) const;                 // to be released
    bool released() const;                                // presses Release as soon as it can
    std::function<bool()> shown(const char* name) const;  // a surface, with its host's draft
    void next();
    void goOn();
    MainWindow& window_;
    QString folder_;
    std::vector<Step> steps_;
    std::size_t at_ = 0;
    int waited_ = 0;
};

}  // namespace zl::app
