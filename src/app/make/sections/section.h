// SPDX-License-Identifier: GPL-3.0-or-later
// A part of the bench: a title, a form of captions and fields, and edits of the chosen layers.
// Shows values, sends edits.
#pragma once

#include <QWidget>
#include <functional>

#include "widgets/form.h"
#include "work/session.h"

namespace zl::app {

class Section : public QWidget {
    Q_OBJECT
  public:
    Section(Session& session, const QString& title, QWidget* parent = nullptr);
    // Shows the values of the chosen layer and piece, or hides.
    void refresh();

  protected:
    // Whether the section has anything to do with them.
    virtual bool isFor(const Piece& piece, const Layer* layer) const = 0;
    virtual void fill(const Piece& piece, const Layer* layer) = 0;
    QWidget* body() const { return body_; }
    bool filling() const { return filling_; }
    // The chosen layer, or all chosen layers, changed as one edit. Nothing happens while the
    // section is being filled.
    void edit(const QString& what, const QString& mergeKey,
              const std::function<void(Layer&)>& change);
    void editAll(const QString& what, const QString& mergeKey,
                 const std::function<void(Layer&)>& change);

    Session& session_;

  private:
    QWidget* body_;
    bool filling_ = false;
};

// A section for layers of one kind: its fields are read from what the layer is made of.
template <class What>
class KindSection : public Section {
  public:
    using Section::Section;

  protected:
    bool isFor(const Piece&, const Layer* layer) const final {
        return layer && std::holds_alternative<What>(layer->what);
    }
    void fill(const Piece& piece, const Layer* layer) final {
        fillFrom(std::get<What>(layer->what), *layer, piece);
    }
    virtual void fillFrom(const What& what, const Layer& layer, const Piece& piece) = 0;
    // Of the chosen layer, or of all chosen layers of this kind, as one edit.
    void editOne(const QString& title, const QString& mergeKey,
                 const std::function<void(What&)>& change) {
        edit(title, mergeKey, onlyMine(change));
    }
    void editEach(const QString& title, const QString& mergeKey,
                  const std::function<void(What&)>& change) {
        editAll(title, mergeKey, onlyMine(change));
    }

  private:
    static std::function<void(Layer&)> onlyMine(const std::function<void(What&)>& change) {
        return [&change](Layer& layer) {
            if (What* what = std::get_if<What>(&layer.what)) change(*what);
        };
    }
};

}  // namespace zl::app
