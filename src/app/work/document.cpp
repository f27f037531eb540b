// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/document.h"

#include "lettering/fonts.h"

namespace zl::app {
namespace {

void tellIf(const std::function<void()>& what) {
    if (what) what();
}

}  // namespace

// A step of history: the kit before and after. Copies of kits are cheap.
class KitCommand : public QUndoCommand {
  public:
    KitCommand(Document& document, Kit before, Kit after, const QString& what, QString mergeKey)
        : QUndoCommand(what),
          document_(document),
          before_(std::move(before)),
          after_(std::move(after)),
          mergeKey_(std::move(mergeKey)) {}
    int id() const override { return mergeKey_.isEmpty() ? -1 : 1; }
    bool mergeWith(const QUndoCommand* other) override {
        const auto* next = static_cast<const KitCommand*>(other);
        if (next->mergeKey_ != mergeKey_) return false;
        after_ = next->after_;
        setObsolete(after_ == before_);
        return true;
    }
    void undo() override {
        document_.show(before_);
        Q_EMIT document_.stepped(after_);
    }
    void redo() override {
        document_.show(after_);
        if (std::exchange(done_, true)) Q_EMIT document_.stepped(before_);
    }

  private:
    Document& document_;
    Kit before_, after_;
    QString mergeKey_;
    bool done_ = false;  // once: the history does it for the first time when it takes it
};

Document::Document(QObject* parent) : QObject(parent) {
    constexpr int remembered = 500;
    history_.setUndoLimit(remembered);
}

// The interface thread lays text out for the kit that it shows.
void Document::show(const Kit& kit) {
    const bool otherFonts = kit_.fonts != kit.fonts;
    kit_ = kit;
    useFontsOf(kit_);
    Q_EMIT kitChanged();
    if (otherFonts) Q_EMIT fontsChanged();
}

void Document::reset(const Kit& kit) {
    history_.clear();
    show(kit);
}

bool Document::apply(const Result<Kit>& next, const QString& what, const QString& mergeKey) {
    if (!next) {
        Q_EMIT told(QString::fromStdString(next.error().sentence()), true);
        return false;
    }
    if (*next == kit_) return true;
    const QString key = mergeKey.isEmpty() ? mergeKey : QString("%1 %2").arg(step_).arg(mergeKey);
    history_.push(new KitCommand(*this, kit_, *next, what, key));
    return true;
}

void Document::applyAside(Jobs& jobs, AsideEdit edit) {
    auto make = std::move(edit.make);
    aside(
        jobs, this,
        [kit = kit_, make = std::move(make), own = edit.stop](const std::stop_token& closing) {
            // Either of the two stops it: whoever asked, or the end of the program.
            std::stop_source stop;
            const auto end = [&stop] { stop.request_stop(); };
            const std::stop_callback asked(own, end), closed(closing, end);
            return std::pair(kit, make(kit, stop.get_token()));
        },
        [this, edit = std::move(edit)](const std::pair<Kit, Result<Kit>>& made) {
            end(edit, made.first, made.second);
        });
}

void Document::end(const AsideEdit& edit, const Kit& before, const Result<Kit>& made) {
    tellIf(edit.ended);
    if (!made && made.error().code == Code::cancelled) return;
    if (!(before == kit_)) {
        const QString usual = tr("The kit was edited meanwhile; ask again.");
        Q_EMIT told(edit.meanwhile.isEmpty() ? usual : edit.meanwhile, true);
        return;
    }
    tellIf(edit.answered);
    if (!made && edit.refused) return edit.refused(made.error());
    if (made && *made == before) return tellIf(edit.unchanged ? edit.unchanged : edit.applied);
    if (apply(made, edit.what)) tellIf(edit.applied);
}

}  // namespace zl::app
