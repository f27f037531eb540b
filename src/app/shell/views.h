// SPDX-License-Identifier: GPL-3.0-or-later
// The views of a window: which one is in front, and what each does when that changes.
#pragma once

#include <QStackedWidget>
#include <QStringList>
#include <string>

#include "shell/actions.h"
#include "shell/view_row.h"

namespace zl::app {

class Views {
  public:
    explicit Views(std::vector<ViewRow> rows);
    QStackedWidget* centre() { return centre_; }
    QStackedWidget* benches() { return benches_; }
    void make(MainWindow& window);

    bool show(std::string_view id);  // whether another one was in front
    std::string now() const;
    int at() const { return centre_->currentIndex(); }
    const ViewParts& parts() const { return views_[static_cast<std::size_t>(at())].parts; }
    std::vector<QWidget*> feet() const;
    std::string idAt(int at) const { return views_[static_cast<std::size_t>(at)].row.id; }
    // Shows a place of the piece in the view that is in front; false: it shows none.
    bool goTo(const PixelRect& place) const;
    void wear() const;  // another theme

    QStringList titles() const;
    QStringList keys() const;
    std::vector<ActionRow> actions() const;  // one a view

  private:
    struct View {
        ViewRow row;
        ViewParts parts;
    };
    std::vector<View> views_;
    QStackedWidget *centre_, *benches_;
};

}  // namespace zl::app
