// SPDX-License-Identifier: GPL-3.0-or-later
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScopedValueRollback>
#include <QStyledItemDelegate>
#include <QToolButton>
#include <cmath>

#include "lettering/lettering.h"
#include "look/theme.h"
#include "make/sections/sections.h"

namespace zl::app {
namespace {

constexpr int specimenRole = Qt::UserRole + 1;

// The list of fonts in the person's own words, each set in the font itself.
class SpecimenDelegate : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override {
        const Theme& theme = Theme::now();
        const bool chosen = option.state & QStyle::State_Selected;
        painter->save();
        painter->fillRect(option.rect, theme[chosen ? "accent-pale" : "sheet-raised"]);
        const QRect inner = option.rect.adjusted(10, 3, -8, -3);
        painter->setPen(theme["ink-soft"]);
        painter->setFont(interfaceFont(11));
        painter->drawText(inner, Qt::AlignLeft | Qt::AlignTop,
                          index.data(Qt::DisplayRole).toString());
        QFont own(index.data(Qt::DisplayRole).toString());
        own.setPixelSize(20);
        own.setBold(true);
        painter->setFont(own);
        painter->setPen(theme["ink"]);
        painter->drawText(inner.adjusted(0, 14, 0, 0), Qt::AlignLeft | Qt::AlignVCenter,
                          painter->fontMetrics().elidedText(index.data(specimenRole).toString(),
                                                            Qt::ElideRight, inner.width()));
        painter->restore();
    }
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
        return {260, 48};
    }
};

}  // namespace

LettersSection::LettersSection(Session& session) : KindSection(session, tr("Letters")) {
    Form form(body());
    text_ = named(new QPlainTextEdit, "text");
    text_->setAccessibleName(tr("Text"));
    text_->setPlaceholderText(tr("What it says"));
    text_->setFixedHeight(54);
    text_->setTabChangesFocus(true);
    form.wide(text_);
    buildFont(form);
    size_ = named(new NumberField(tr("Letter size"), tr("px")), "size");
    size_->setRange(1, 4000, 2);
    leading_ = named(new NumberField(tr("Leading"), tr("lead")), "leading");
    leading_->setRange(0.3, 5, 2);
    form.row(tr("Size"), size_, leading_);
    tracking_ = named(new NumberField(tr("Tracking"), tr("‰ em")), "tracking");
    tracking_->setRange(-500, 2000, 0);
    auto* fit = named(new QPushButton(tr("Fit width")), "fitWidth");
    connect(fit, &QPushButton::clicked, this, &LettersSection::fitWidth);
    fit->setToolTip(tr("As wide as the frame less a twentieth on either side"));
    form.row(tr("Tracking"), tracking_, fit);
    buildAligns(form);
    buildToggles(form);
    colour_ = named(new ColourField(tr("Letter colour")), "colour");
    colour_->text()->setObjectName("colourText");
    colour_->setProperty("takesAlpha", true);
    form.row(tr("Colour"), colour_);
    capsNote_ = named(new QLabel, "capsNote");
    capsNote_->setProperty("soft", true);
    capsNote_->setWordWrap(true);
    form.wide(capsNote_);
    auto* refusal = refusalLine();
    form.wide(refusal);
    for (QWidget* field : std::initializer_list<QWidget*>{size_, leading_, tracking_, colour_})
        hear(field, refusal);

    listen();
}

void LettersSection::buildFont(Form& form) {
    family_ = named(new QComboBox, "family");
    family_->setAccessibleName(tr("Font family"));
    family_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    family_->setItemDelegate(new SpecimenDelegate(family_));
    family_->setMaxVisibleItems(9);
    style_ = named(new QComboBox, "style");
    style_->setAccessibleName(tr("Font style"));
    form.row(tr("Font"), family_);
    form.row(tr("Style"), style_);
    fontNote_ = named(refusalLine(), "fontNote");
    form.wide(fontNote_);
}

void LettersSection::buildAligns(Form& form) {
    const std::tuple<const char*, const char*, QString, Align> choices[] = {
        {"align-left", "alignLeft", tr("Align left"), Align::left},
        {"align-centre", "alignCentre", tr("Align centre"), Align::centre},
        {"align-right", "alignRight", tr("Align right"), Align::right}};
    for (const auto& [icon, objectName, name, align] : choices) {
        auto* button = iconButton(icon, objectName, name);
        button->setCheckable(true);
        connect(button, &QToolButton::clicked, this, [this, a = align] {
            editEach(tr("Align"), {}, [a](LetteringLayer& l) { l.align = a; });
            refresh();
        });
        aligns_.push_back(button);
    }
    form.row(tr("Align"), sideBySide({aligns_[0], aligns_[1], aligns_[2]}));
}

void LettersSection::buildToggles(Form& form) {
    const auto toggle = [this](const QString& words, const char* objectName, const QString& name,
                               auto set) {
        auto* button = named(new QToolButton, objectName);
        button->setText(words);
        button->setCheckable(true);
        button->setFixedHeight(28);
        button->setProperty("words", true);
        button->setAccessibleName(name);
        button->setToolTip(name);
        connect(button, &QToolButton::clicked, this, [this, name, set](bool on) {
            editEach(name, {}, [&](LetteringLayer& l) { set(l, on); });
            refresh();
        });
        return button;
    };
    caps_ = toggle(tr("Capitals"), "caps", tr("Controls in capitals"),
                   [](LetteringLayer& l, bool on) { l.caps = on; });
    italic_ = toggle(tr("Italic"), "italic", tr("Italic"), [this](LetteringLayer& l, bool on) {
        std::vector<std::string> styles;
        const int at = family_->findText(QString::fromStdString(l.family));
        for (const QString& one : family_->itemData(at).toStringList())
            styles.push_back(one.toStdString());
        l.style = withLean(l.style, on, styles);
    });
    vertical_ = toggle(tr("Stacked"), "vertical", tr("Letters below one another"),
                       [](LetteringLayer& l, bool on) { l.vertical = on; });
    form.wide(sideBySide({caps_, italic_, vertical_}));
}

void LettersSection::listen() {
    connect(text_, &QPlainTextEdit::textChanged, this, [this] {
        edit(tr("Type"), "type", [this](Layer& layer) {
            const std::string typed = text_->toPlainText().toStdString();
            // As long as nobody gave it a name of its own, the layer is called by what it says.
            LetteringLayer& letters = std::get<LetteringLayer>(layer.what);
            const std::string before = nameFromText(letters.text), after = nameFromText(typed);
            const bool ours = layer.name == before || layer.name == before + " copy" ||
                              QString::fromStdString(layer.name).startsWith(tr("Lettering"));
            if (ours && !after.empty()) layer.name = after;
            letters.text = typed;
        });
    });
    listenToFont();
    connect(size_, &NumberField::committed, this, [this](double v) {
        editEach(tr("Letter size"), "size", [v](LetteringLayer& l) { l.size = v; });
    });
    connect(leading_, &NumberField::committed, this, [this](double v) {
        editEach(tr("Leading"), "leading", [v](LetteringLayer& l) { l.leading = v; });
    });
    connect(tracking_, &NumberField::committed, this, [this](double v) {
        editEach(tr("Tracking"), "tracking", [v](LetteringLayer& l) { l.tracking = v; });
    });
    connect(colour_, &ColourField::committed, this, [this](Colour c) {
        editEach(tr("Colour"), {}, [c](LetteringLayer& l) { l.colour = c; });
    });
    connect(&session_.document(), &Document::fontsChanged, this, [this] {
        if (std::exchange(fontsAsked_, false)) fillFonts();
    });
}

void LettersSection::listenToFont() {
    connect(family_, &QComboBox::activated, this, [this] {
        const QStringList styles = family_->currentData().toStringList();
        editEach(tr("Font"), {}, [&](LetteringLayer& l) {
            l.family = family_->currentText().toStdString();
            if (!styles.isEmpty() && !styles.contains(QString::fromStdString(l.style)))
                l.style = styles.contains("Bold") ? "Bold" : styles.last().toStdString();
        });
    });
    connect(style_, &QComboBox::activated, this, [this] {
        editEach(tr("Style"), {},
                 [this](LetteringLayer& l) { l.style = style_->currentText().toStdString(); });
    });
}

void LettersSection::fitWidth() {
    constexpr double margin = 0.05;  // of the frame, on either side
    editOne(tr("Fit width"), {}, [this](LetteringLayer& l) {
        const double frame = session_.piece()->frame.width;
        if (const auto size = sizeForWidth(l, frame * (1 - 2 * margin))) l.size = *size;
        l.at.x = std::round(frame * margin);
    });
}

// The fonts are listed when lettering is first shown, aside: looking through them takes a while.
void LettersSection::fillFonts() {
    if (fontsAsked_) return;
    fontsAsked_ = true;
    aside(
        session_.jobs(), this,
        [kit = session_.kit()] {
            useFontsOf(kit);
            return fontFamilies();
        },
        [this](const std::vector<FontFamily>& families) {
            family_->clear();
            for (const FontFamily& family : families) {
                QStringList styles;
                for (const std::string& style : family.styles)
                    styles << QString::fromStdString(style);
                family_->addItem(QString::fromStdString(family.name), styles);
            }
            refresh();
        });
}

void LettersSection::editText() {
    text_->setFocus();
    text_->selectAll();
}

void LettersSection::fillFrom(const LetteringLayer& letters, const Layer&, const Piece& piece) {
    fillFonts();
    const QString text = QString::fromStdString(letters.text);
    if (text_->toPlainText() != text) text_->setPlainText(text);
    const QString family = QString::fromStdString(letters.family);
    const int at = family_->findText(family);
    for (int i = 0; i < family_->count(); ++i)
        if (family_->itemData(i, specimenRole).toString() != text)
            family_->setItemData(i, text.section('\n', 0, 0), specimenRole);
    family_->setPlaceholderText(family);
    family_->setCurrentIndex(at);
    style_->clear();
    if (at >= 0) style_->addItems(family_->itemData(at).toStringList());
    const QString style = QString::fromStdString(letters.style);
    if (style_->findText(style) < 0) style_->addItem(style);
    style_->setCurrentText(style);
    QStringList notes;
    if (at < 0 && family_->count() > 0)
        notes << tr("“%1” is not here; %2 is used instead.")
                     .arg(family, QString::fromStdString(familyUsed(letters)));
    for (const LackingGlyph& lacking : lackingGlyphs(letters))
        notes << (lacking.family.empty()
                      ? tr("No font here has “%1”.").arg(QString::fromStdString(lacking.letter))
                      : (lacking.drawn
                             ? tr("It has no “%1”; %2 is used for it.")
                             : tr("“%1” is a coloured picture in %2, which lettering leaves out."))
                            .arg(QString::fromStdString(lacking.letter),
                                 QString::fromStdString(lacking.family)));
    fontNote_->setText(notes.mid(0, 3).join('\n'));
    fontNote_->setVisible(!notes.isEmpty());
    size_->show(letters.size);
    leading_->show(letters.leading);
    tracking_->show(letters.tracking);
    const Align aligns[] = {Align::left, Align::centre, Align::right};
    for (std::size_t i = 0; i < aligns_.size(); ++i)
        aligns_[i]->setChecked(letters.align == aligns[i]);
    caps_->setChecked(letters.caps);
    italic_->setChecked(leans(letters.style));
    vertical_->setChecked(letters.vertical);
    colour_->show(letters.colour);
    const auto height = capHeight(letters);
    capsNote_->setText(height ? tr("Capitals are %1 px high, %2 %% of the frame.")
                                    .arg(*height, 0, 'f', 1)
                                    .arg(*height / piece.frame.height * 100, 0, 'f', 1)
                                    .replace("%%", "%")
                              : QString());
}

}  // namespace zl::app
