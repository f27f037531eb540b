// SPDX-License-Identifier: GPL-3.0-or-later
// What a hand does on the canvas. The canvas asks its tools in their order: the first that takes a
// press gets the moves until the release.
#pragma once

#include <QCoreApplication>
#include <QPointF>
#include <optional>

#include "make/canvas/viewport.h"
#include "work/session.h"

class QKeyEvent;
class QPainter;

namespace zl::app {

// What all tools work on. Both outlive them.
struct ToolPlace {
    Session& session;
    Viewport& viewport;
    bool insideCut = false;  // moved and scaled pictures leave their shape cuts where they stand
};

struct Hand {
    QPointF at;  // px of the widget
    Qt::MouseButton button = Qt::NoButton;
    Qt::KeyboardModifiers keys{};
    bool with(Qt::KeyboardModifier key) const { return keys.testFlag(key); }
};

class Tool {
    Q_DECLARE_TR_FUNCTIONS(Canvas)
  public:
    explicit Tool(ToolPlace& place) : place_(place) {}
    virtual ~Tool() = default;
    Tool(const Tool&) = delete;
    Tool& operator=(const Tool&) = delete;

    virtual bool press(const Hand& hand) = 0;
    virtual void move(const Hand&) {}
    virtual void release() {}
    virtual bool doubleClick(const Hand&) { return false; }
    virtual bool key(const QKeyEvent&) { return false; }
    virtual bool nudge(double, double) { return false; }  // by px of what is shown
    virtual bool wheel(double) { return false; }          // by steps of a wheel, without a key held
    // Without a button held: the pointer over it. Nothing: the next tool is asked.
    virtual std::optional<Qt::CursorShape> hover(const Hand&) { return {}; }
    virtual void paint(QPainter&) {}

    // A tool that was begun on purpose is the only one until it ends. It ends by itself when what
    // it works on is gone.
    virtual bool active() { return false; }
    virtual bool onlyWhenBegun() const { return false; }
    virtual void end() {}
    virtual QString advice() const { return {}; }  // what the hand can do now

  protected:
    Session& session() const { return place_.session; }
    Viewport& viewport() const { return place_.viewport; }
    ToolPlace& place_;
};

// A drag that begins when the hand has moved a little, so that a click moves nothing. Its steps are
// one edit.
class DragTool : public Tool {
  public:
    using Tool::Tool;
    void move(const Hand& hand) final {
        constexpr int slip = 3;  // px of the widget
        if (!moved_ && (hand.at - from_).manhattanLength() < slip) return;
        moved_ = true;
        drag(hand);
    }
    void release() override { moved_ = false; }

  protected:
    // To be called by a press that is taken.
    void begin(const Hand& hand) {
        static int serial = 0;
        from_ = hand.at;
        moved_ = false;
        mergeKey_ = QString("drag %1").arg(++serial);
    }
    virtual void drag(const Hand& hand) = 0;
    RealPoint from() const { return viewport().toFrame(from_); }
    bool hasMoved() const { return moved_; }
    const QString& mergeKey() const { return mergeKey_; }

  private:
    QPointF from_;
    bool moved_ = false;
    QString mergeKey_;
};

}  // namespace zl::app
