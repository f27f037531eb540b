// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/views.h"

#include "look/theme.h"
#include "shell/main_window.h"
#include "widgets/pages.h"

namespace zl::app {
namespace {

void call(const std::function<void()>& what) {
    if (what) what();
}

}  // namespace

Views::Views(std::vector<ViewRow> rows) : centre_(new Pages), benches_(new Pages) {
    for (ViewRow& row : rows) views_.push_back({std::move(row), {}});
    benches_->setFixedWidth(benchWidth);
}

// In their order: a view finds the ones before it in the window.
void Views::make(MainWindow& window) {
    for (View& view : views_) {
        view.parts = view.row.make(window);
        centre_->addWidget(view.parts.view);
        benches_->addWidget(view.parts.bench);
    }
}

bool Views::show(std::string_view id) {
    const std::string before = now();
    for (std::size_t i = 0; i < views_.size(); ++i) {
        if (views_[i].row.id != id) continue;
        centre_->setCurrentIndex(static_cast<int>(i));
        benches_->setCurrentIndex(static_cast<int>(i));
        for (const View& other : views_)
            if (other.row.id != id) call(other.parts.left);
        call(views_[i].parts.shown);
    }
    return before != now();
}

std::string Views::now() const {
    return at() < 0 ? "" : idAt(at());
}

bool Views::goTo(const PixelRect& place) const {
    const auto& its = views_[static_cast<std::size_t>(at())].parts.goTo;
    if (its) its(place);
    return static_cast<bool>(its);
}

void Views::wear() const {
    for (const View& view : views_) call(view.parts.worn);
}

std::vector<QWidget*> Views::feet() const {
    std::vector<QWidget*> feet;
    for (const View& view : views_)
        if (view.parts.foot) feet.push_back(view.parts.foot);
    return feet;
}

QStringList Views::titles() const {
    QStringList titles;
    for (const View& view : views_) titles << view.row.title;
    return titles;
}

QStringList Views::keys() const {
    QStringList keys;
    for (const View& view : views_) keys << view.row.key;
    return keys;
}

std::vector<ActionRow> Views::actions() const {
    std::vector<ActionRow> rows;
    for (const View& view : views_)
        rows.push_back({.id = view.row.id,
                        .words = view.row.title,
                        .key = QKeySequence(view.row.key),
                        .run = [id = view.row.id](MainWindow& w) { w.showView(id); }});
    return rows;
}

}  // namespace zl::app
