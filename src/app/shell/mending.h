// SPDX-License-Identifier: GPL-3.0-or-later
// A mend of the chosen piece, made aside, one at a time.
#pragma once

#include <QObject>
#include <stop_token>

#include "work/readings_desk.h"
#include "work/session.h"

namespace zl::app {

class Mending : public QObject {
    Q_OBJECT
  public:
    Mending(Session& session, ReadingsDesk& desk, QObject* parent)
        : QObject(parent), session_(session), desk_(desk) {}
    void mend(const QString& id);
    void cancel();

  Q_SIGNALS:
    void told(const QString& sentence, bool bad);
    void ended();                          // with or without an answer
    void answered(const zl::Kit& before);  // for the kit as it still is

  private:
    void tellWhyNot(const std::string& mendId, const Error& why);

    Session& session_;
    ReadingsDesk& desk_;
    std::stop_source stop_;
    bool busy_ = false;
};

}  // namespace zl::app
