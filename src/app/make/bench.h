// SPDX-License-Identifier: GPL-3.0-or-later
// The right side in Make: the stack of layers, and what the chosen layer is made of. Without a
// chosen layer, the piece.
#pragma once

#include <QWidget>

#include "make/layer_list.h"
#include "widgets/fields.h"
#include "work/session.h"

class QComboBox;
class QMenu;
class QVBoxLayout;
class QLabel;
class QPushButton;
class QToolButton;

namespace zl::app {

class ClipSection;
class CutSection;
class Form;
class LettersSection;
class PictureTool;
class Section;
class ToneSection;

class Bench : public QWidget {
    Q_OBJECT
  public:
    explicit Bench(Session& session, QWidget* parent = nullptr);
    LayerList& layers() { return *layers_; }
    void setCropping(bool on);
    void editText();                      // puts the cursor into the lettering's text
    void clipFound(const QString& file);  // the video of the chosen clip

  Q_SIGNALS:
    void referenceAsked();
    void fontAsked();
    void cropAsked(bool on);
    void pictureAsked();
    void stillAsked();
    void newClipAsked();
    void clipAsked();  // wants the file of the chosen clip's video
    void letteringAsked();
    void barAsked(int shape);
    void boxAsked(int which);  // of an overlay: camera, chat, links
    void beforeAsked(bool on);
    void insideAsked(bool on);
    void trimAsked();
    void drawAsked(const std::function<void(zl::PixelRect)>& drawn);  // a rectangle on the piece
    void toolAsked(const std::function<void(zl::app::PictureTool&)>&
                       begin);  // something done by hand on the picture

  private:
    QMenu* buildAddMenu(QWidget* parent);
    void buildHead(QVBoxLayout* outer);
    void buildStackButtons(QVBoxLayout* outer);
    void buildSections(QVBoxLayout* column);
    void listenToSections();
    void listenToPlace();
    QWidget* makePlace();
    QWidget* makeCrop();
    void centreCrop();
    std::optional<PixelSize> originalSize() const;  // of the chosen picture
    QWidget* makePiece();
    QWidget* section(const QString& title, QWidget* content);
    void refresh();
    template <class Change>
    void edit(const QString& what, const QString& mergeKey, const Change& change);

    Session& session_;
    LayerList* layers_;
    std::vector<QToolButton*> stackButtons_;
    QWidget *place_, *crop_, *piece_;
    LettersSection* letters_;
    CutSection* cut_;
    ClipSection* clip_;
    ToneSection* tone_;
    std::vector<Section*> sections_;
    NumberField *cropLeft_, *cropTop_, *cropWidth_, *cropHeight_;
    QLabel *cropRefusal_, *cropAbout_;
    QPushButton* cropOnCanvas_;
    NumberField *left_, *top_, *width_, *height_, *opacity_;
    QLabel* placeRefusal_;
    QToolButton* keepShape_;
    QLineEdit* pieceTitle_;
    QLabel *pieceBrief_, *pieceAbout_, *pieceLengthWord_;
    NumberField *frameWidth_, *frameHeight_, *pieceLength_;
    QLabel* pieceRefusal_;
    bool filling_ = false;
};

}  // namespace zl::app
