// SPDX-License-Identifier: GPL-3.0-or-later
// The bench's sections for what a layer is made of.
#pragma once

#include <QComboBox>
#include <array>
#include <map>

#include "make/sections/section.h"
#include "tone/tone.h"
#include "work/jobs.h"

class QCheckBox;
class QComboBox;
class QPlainTextEdit;
class QPushButton;
class QSlider;
class QVBoxLayout;

namespace zl {
struct KeyReport;
}

namespace zl::app {

// Turn, mirror, blend; line up with the frame or with one another.
class ArrangeSection : public Section {
    Q_OBJECT
  public:
    explicit ArrangeSection(Session& session);

  private:
    void quarter(double by);
    void mirror(bool across);
    void listen();
    bool isFor(const Piece&, const Layer* layer) const override { return layer; }
    void fill(const Piece& piece, const Layer* layer) override;
    void align(int line);
    void distribute(bool across);
    void matchSize();
    NumberField* turn_;
    QComboBox *blend_, *alignTo_;
    std::array<QToolButton*, 2> gaps_;
    QToolButton* match_;
};

// The video that a picture shows: which part of it, when, how often, how loud.
class ClipSection : public Section {
    Q_OBJECT
  public:
    explicit ClipSection(Session& session);
    // The same video from another place; another one is taken, too, and told.
    void found(const QString& file);

  Q_SIGNALS:
    void findAsked();  // wants the file of the video that is not there

  private:
    bool isFor(const Piece& piece, const Layer* layer) const override;
    void fill(const Piece& piece, const Layer* layer) override;
    void change(const QString& what, const QString& mergeKey,
                const std::function<void(Clip&)>& change);
    void listen();
    NumberField *in_, *out_, *begins_, *loudness_;
    QComboBox* after_;
    QCheckBox* muted_;
    QLabel* about_;
    QPushButton* find_;
};

// When a layer is seen in a piece that moves.
class TimeSection : public Section {
    Q_OBJECT
  public:
    explicit TimeSection(Session& session);

  private:
    bool isFor(const Piece& piece, const Layer* layer) const override;
    void fill(const Piece& piece, const Layer* layer) override;
    void change(const QString& what, const QString& mergeKey,
                const std::function<void(ShowTime&)>& change);
    NumberField *from_, *to_, *fade_;
    QCheckBox* always_;
    QLabel* refusal_;
};

class BarSection : public KindSection<BarLayer> {
    Q_OBJECT
  public:
    explicit BarSection(Session& session);

  private:
    void listen();
    void fillFrom(const BarLayer& bar, const Layer& layer, const Piece& piece) override;
    QComboBox* shape_;
    NumberField *radius_, *thickness_, *angle_;
    ColourField *colour_, *fade_;
    QCheckBox *fades_, *toNothing_;
};

class LettersSection : public KindSection<LetteringLayer> {
    Q_OBJECT
  public:
    explicit LettersSection(Session& session);
    void editText();  // puts the cursor into the text

  private:
    void fillFrom(const LetteringLayer& letters, const Layer& layer, const Piece& piece) override;
    void buildFont(Form& form);
    void buildAligns(Form& form);
    void buildToggles(Form& form);
    void listen();
    void listenToFont();
    void nameAsTyped();
    void fillFonts();
    void fitWidth();
    QPlainTextEdit* text_;
    QComboBox *family_, *style_;
    QLabel *fontNote_, *capsNote_;
    NumberField *size_, *leading_, *tracking_;
    std::vector<QToolButton*> aligns_;
    QToolButton *caps_, *italic_, *vertical_;
    ColourField* colour_;
    bool fontsAsked_ = false;
};

// How often each lightness occurs, with the clipped ends marked.
class HistogramView : public QWidget {
    Q_OBJECT
  public:
    explicit HistogramView(QWidget* parent = nullptr);
    void show(const Histogram& histogram);
    const Histogram& shown() const { return histogram_; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    Histogram histogram_;
};

class ToneSection : public KindSection<PictureLayer> {
    Q_OBJECT
  public:
    explicit ToneSection(Session& session);

  Q_SIGNALS:
    void placeVeilAsked(int veil);  // on the canvas
    void beforeAsked(bool on);      // the picture without its tone, for a look

  private:
    void addVeilRow(std::size_t i, const Veil& veil);
    void buildSetting(Form& form, const QString& name, const char* id, double Tone::*member);
    QWidget* buildStarts();
    void fillFrom(const PictureLayer& picture, const Layer& layer, const Piece& piece) override;
    void count(const PictureLayer& picture);
    std::string countedOf_;  // the picture and the tone that the histogram is of
    Tone countedTone_;
    void fillVeils(const PictureLayer& picture);
    void addVeil(Veil::Kind kind);
    struct Row {
        double Tone::*member;
        QSlider* slider;
        NumberField* field;
    };
    std::vector<Row> rows_;
    HistogramView* histogram_;
    QLabel *clipped_, *refusal_;
    QPushButton* before_;
    QWidget* veils_;
    QVBoxLayout* veilRows_;
    std::vector<Veil> veilsShown_;
    LatestJob counting_{true};
};

class SubjectCard;

// Cuts of a picture: subjects, the colour key with its brush, shapes, and what mends cleaned.
class CutSection : public KindSection<PictureLayer> {
    Q_OBJECT
  public:
    explicit CutSection(Session& session);

  Q_SIGNALS:
    // The next click in the picture gives its original's colour and place.
    void pickAsked(std::function<void(zl::Colour, zl::RealPoint)> picked);
    void brushAsked(int cut, bool restores, double radius);  // px of the original
    void subjectBoxAsked(int cut);                           // drawn on the canvas
    void placeAsked(int cut);                                // a shape, on the canvas
    void insideAsked(bool on);                               // the picture moves, its shapes stand
    void trimAsked();

  private:
    void fillFrom(const PictureLayer& picture, const Layer& layer, const Piece& piece) override;
    void build(const std::vector<Cut>& cuts);
    void buildGround(Form& form, std::size_t i);
    void buildTolerance(Form& form, std::size_t i);
    void buildBrush(Form& form, std::size_t i);
    void buildCorners(Form& form, std::size_t i);
    void buildBox(Form& form, std::size_t i);
    void buildKey(Form& form, std::size_t index);
    QWidget* buildSubject(std::size_t index);
    void buildShape(Form& form, std::size_t index, const ShapeCut& shape);
    void showCut(std::size_t index, const Cut& cut);
    void look(const PictureLayer& picture);
    void add(Cut cut);
    void addShape(CutShape shape, bool round);
    void change(std::size_t index, const QString& what, const QString& mergeKey,
                const std::function<void(Cut&)>& change);
    NumberField* number(std::size_t index, const char* id, const QString& name, const QString& unit,
                        double low, double high, int decimals,
                        const std::function<void(Cut&, double)>& set);
    struct Controls {
        QCheckBox *on = nullptr, *inverted = nullptr, *held = nullptr;
        ColourField* colour = nullptr;
        QPushButton *find = nullptr, *strokes = nullptr, *closed = nullptr;
        QComboBox *reach = nullptr, *shadow = nullptr, *unit = nullptr;
        QSlider* tolerance = nullptr;
        NumberField* brush = nullptr;
        QLabel* note = nullptr;
        SubjectCard* subject = nullptr;
        std::map<std::string, NumberField*> numbers;
    };
    void tellFound(Controls& row, const KeyReport& report, const KeyCut& key);
    std::vector<Controls> shown_;
    QWidget* list_;
    QVBoxLayout* cards_;
    QPushButton *inside_, *tidy_, *subject_;
    QLabel* refusal_;
    QString builtOf_;
    int layerShown_ = 0;
    double brushSize_ = 24;
    std::vector<Cut> lookedAt_;
    std::string lookedSource_;
    LatestJob looking_{true};
};

class FinishSection : public Section {
    Q_OBJECT
  public:
    explicit FinishSection(Session& session);

  private:
    bool isFor(const Piece&, const Layer* layer) const override { return layer; }
    void fill(const Piece& piece, const Layer* layer) override;
    void build(const std::vector<Finish>& finishes);
    void editFinish(std::size_t index, const QString& what, const QString& mergeKey,
                    const std::function<void(Finish&)>& change);
    void move(std::size_t index, int by);
    void fillLooks(QMenu* menu);
    void saveLook(bool onShelf);
    struct Card {
        std::string kind;
        QCheckBox* on;
        std::vector<std::pair<std::string, NumberField*>> numbers;
        std::vector<std::pair<std::string, QComboBox*>> choices;
        ColourField* colour;
    };
    void addCard(std::size_t i, const std::vector<Finish>& finishes);
    QWidget* headOf(const Card& made, std::size_t i, std::size_t count);
    QWidget* fieldOf(Card& made, const FinishKind& kind, const FinishField& field, std::size_t i);
    std::vector<Card> cards_;
    QWidget* list_;
    QLabel* refusal_;
};

// Link regions and slices of the piece.
class RegionSection : public Section {
    Q_OBJECT
  public:
    explicit RegionSection(Session& session);

  Q_SIGNALS:
    void drawAsked(const std::function<void(zl::PixelRect)>& drawn);

  protected:
    bool isFor(const Piece& piece, const Layer* layer) const override;
    void fill(const Piece& piece, const Layer* layer) override;

  private:
    void listen();
    bool isLink() const;
    std::size_t chosen() const;
    void change(const QString& what, const QString& mergeKey,
                const std::function<void(Piece&)>& edit);
    void setPlace(int side, double value);
    void remove();
    int nowChosen(const Piece& piece) const;
    QComboBox* list_;
    std::string piece_;  // what the list shows
    std::size_t links_ = 0, slices_ = 0;
    QWidget* fields_;
    QLineEdit *address_, *says_;
    QLabel* refusal_;
    NumberField* sides_[4];
    QPushButton* remove_;
};

class GuideSection : public Section {
    Q_OBJECT
  public:
    explicit GuideSection(Session& session);

  private:
    QMenu* briefMenu(QWidget* parent);
    void fillBriefs(QMenu* menu);
    bool isFor(const Piece&, const Layer* layer) const override { return !layer; }
    void fill(const Piece& piece, const Layer* layer) override;
    void add(bool upright);
    QLineEdit* place_;
    QPushButton* clear_;
    QLabel *list_, *refusal_;
};

}  // namespace zl::app
