// SPDX-License-Identifier: GPL-3.0-or-later
// A brief of one's own: begun as a copy of the piece's brief, its numbers typed, its zones typed or
// drawn on the piece; kept in the person's data folder. Every number says where it comes from.
#pragma once

#include <QDialog>
#include <QPointer>

#include "base/json.h"
#include "widgets/fields.h"
#include "work/session.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QTableWidget;

namespace zl::app {

class BriefDialog : public QDialog {
    Q_OBJECT
  public:
    // Draws a rectangle on the piece: `drawn` with it, or `ended` when the person left off.
    using DrawRegion =
        std::function<void(std::function<void(PixelRect)> drawn, std::function<void()> ended)>;
    BriefDialog(Session& session, DrawRegion drawRegion, QWidget* parent = nullptr);

  private:
    void addZone(const OrderedJson& zone);
    void drawZone();
    bool hasZone(const std::string& id) const;
    OrderedJson written() const;
    QWidget* buildDemands(const Brief& from, bool own);
    void buildNumbers();
    QWidget* buildFormats();
    void buildZones();
    QLayout* buildButtons();
    void save();
    void kept(const Result<std::string>& brief);
    void refuse(const QString& sentence);
    Session& session_;
    DrawRegion drawRegion_;
    OrderedJson base_;     // what it was begun from
    std::string pieceId_;  // the piece that is held against it in the end
    QLineEdit *title_, *provenance_;
    QComboBox *rule_, *alpha_;
    NumberField *width_, *height_, *limit_;
    std::vector<QCheckBox*> formats_;
    QTableWidget* zones_;
    QLabel* refusal_;
};

}  // namespace zl::app
