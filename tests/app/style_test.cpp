// SPDX-License-Identifier: GPL-3.0-or-later
// The controls as they are drawn: contrast, sizes and focus against WCAG 2.2; where a scroll bar's
// handle and a progress lie.
#include "look/style.h"

#include <gtest/gtest.h>

#include <QAbstractItemView>
#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QRadioButton>
#include <QScrollBar>
#include <QSlider>
#include <QStyleOption>
#include <QToolButton>
#include <QtTest>

#include "contrast.h"
#include "look/theme.h"

namespace zl::app {
namespace {

// One of each kind, in a row.
class StyleTest : public ::testing::TestWithParam<const char*> {
  protected:
    StyleTest() {
        EXPECT_TRUE(Theme::wear(*qApp, GetParam()));
        auto* row = new QHBoxLayout(&board);
        const auto put = [&](QWidget* control, const char* property = nullptr) {
            if (property) control->setProperty(property, true);
            row->addWidget(control);
            controls.push_back(control);
        };
        put(new QPushButton("Save"));
        put(new QPushButton("Release"), "primary");
        auto* tool = new QToolButton;
        tool->setText("fit");
        put(tool);
        auto* words = new QToolButton;
        words->setText("Start from");
        put(words, "words");
        put(new QLineEdit("12"));
        auto* box = new QComboBox;
        box->addItems({"one", "two", "three"});
        put(box);
        put(new QCheckBox("Outline"));
        put(new QRadioButton("inside"));
        put(new QSlider(Qt::Horizontal));
        put(new QPlainTextEdit("words"));
        for (QWidget* control : controls) control->setFocusPolicy(Qt::StrongFocus);
        board.setFocusPolicy(Qt::StrongFocus);
        board.resize(1100, 80);
        board.show();
        EXPECT_TRUE(QTest::qWaitForWindowActive(&board));
    }
    ~StyleTest() override { Theme::wear(*qApp, "zinc-sheet"); }

    static int pixelsThatDiffer(const QImage& one, const QImage& two) {
        int n = 0;
        for (int y = 0; y < one.height(); ++y)
            for (int x = 0; x < one.width(); ++x) n += one.pixel(x, y) != two.pixel(x, y);
        return n;
    }
    static int count(const QImage& image, const QColor& colour) {
        int n = 0;
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < image.width(); ++x) n += image.pixelColor(x, y) == colour;
        return n;
    }

    QWidget board;
    std::vector<QWidget*> controls;
};

// WCAG 2.2, 1.4.3 (4.5 : 1 for words) and 1.4.11 (3 : 1 for what shows where a control is).
TEST_P(StyleTest, WordsAndEdgesCanBeSeen) {
    for (const QPalette& p : {sheetPalette(), ledgePalette()}) {
        const auto between = [&](QPalette::ColorRole words, QPalette::ColorRole ground) {
            return contrast(p.color(words), p.color(ground));
        };
        EXPECT_GE(between(QPalette::WindowText, QPalette::Window), 4.5);
        EXPECT_GE(between(QPalette::Text, QPalette::Base), 4.5);
        EXPECT_GE(between(QPalette::ButtonText, QPalette::Button), 4.5);
        EXPECT_GE(between(QPalette::ButtonText, QPalette::AlternateBase), 4.5)
            << "under the pointer";
        EXPECT_GE(between(QPalette::HighlightedText, QPalette::Highlight), 4.5);
        EXPECT_GE(between(QPalette::PlaceholderText, QPalette::Window), 4.5);
        EXPECT_GE(between(QPalette::PlaceholderText, QPalette::Base), 4.5);
        EXPECT_GE(between(QPalette::Mid, QPalette::Window), 3) << "a control's line";
        EXPECT_GE(between(QPalette::Highlight, QPalette::Base), 3) << "a focused control's line";
        for (const Verdict verdict : {Verdict::pass, Verdict::watch, Verdict::fail})
            EXPECT_GE(between(roleOf(verdict), QPalette::Window), 3);
    }
}

// WCAG 2.2, 2.4.7 and 2.4.13: the focus is a line at least as thick as 1 px round the control, so
// that as many pixels change.
TEST_P(StyleTest, EveryControlShowsThatItHasTheFocus) {
    for (QWidget* control : controls) {
        board.setFocus();
        QTest::qWait(5);
        const QImage without = control->grab().toImage();
        control->setFocus(Qt::TabFocusReason);
        QTest::qWait(5);
        ASSERT_TRUE(control->hasFocus()) << control->metaObject()->className();
        const int changed = pixelsThatDiffer(without, control->grab().toImage());
        const bool isSmall = qobject_cast<QSlider*>(control);  // its handle is filled
        EXPECT_GE(changed, isSmall ? 60 : control->sizeHint().width())
            << control->metaObject()->className();
    }
}

TEST_P(StyleTest, WhatIsOffLooksOff) {
    for (QWidget* control : controls) {
        if (qobject_cast<QPlainTextEdit*>(control)) continue;
        board.setFocus();
        const QImage on = control->grab().toImage();
        control->setEnabled(false);
        EXPECT_GT(pixelsThatDiffer(on, control->grab().toImage()), 20)
            << control->metaObject()->className();
    }
}

// WCAG 2.2, 2.5.8: a target is at least 24 x 24 px; a box or a ring counts with its words.
TEST_P(StyleTest, WhatIsPressedIsLargeEnough) {
    for (QWidget* control : controls) {
        if (qobject_cast<QCheckBox*>(control) || qobject_cast<QRadioButton*>(control) ||
            qobject_cast<QSlider*>(control))
            continue;
        EXPECT_GE(control->sizeHint().height(), 24) << control->metaObject()->className();
        EXPECT_GE(control->sizeHint().width(), 24) << control->metaObject()->className();
    }
    QComboBox box;
    box.addItems({"one", "two"});
    EXPECT_GE(box.view()->sizeHintForRow(0), 24);
}

TEST_P(StyleTest, FieldsOfOneRowAreOfOneHeightAndBeginAlike) {
    const QWidget *line = controls[4], *box = controls[5];
    EXPECT_EQ(line->sizeHint().height(), box->sizeHint().height());
    EXPECT_EQ(line->sizeHint().height(), controls[0]->sizeHint().height());
    QLineEdit one("H");
    QComboBox two;
    two.addItem("H");
    const auto firstInk = [](QWidget& field) {
        field.resize(120, 28);
        const QImage seen = field.grab().toImage();
        for (int x = 4; x < seen.width(); ++x)
            for (int y = 6; y < 22; ++y)
                if (contrast(seen.pixelColor(x, y), sheetPalette().color(QPalette::Base)) > 3)
                    return x;
        return -1;
    };
    EXPECT_GT(firstInk(one), 0);
    EXPECT_EQ(firstInk(one), firstInk(two));
}

TEST_P(StyleTest, ARefusedFieldSaysSoByItsLine) {
    auto* line = static_cast<QLineEdit*>(controls[4]);
    const QColor fail = Theme::now()["fail"];
    EXPECT_EQ(count(line->grab().toImage(), fail), 0);
    line->setProperty("bad", true);
    EXPECT_GT(count(line->grab().toImage(), fail), 2 * line->width());
    line->setProperty("bad", false);
    EXPECT_EQ(count(line->grab().toImage(), fail), 0);
}

TEST_P(StyleTest, AHandleIsAsLongAsWhatIsSeenOfTheWhole) {
    QScrollBar bar(Qt::Vertical);
    bar.resize(10, 300);
    bar.setRange(0, 200);
    bar.setPageStep(100);
    QStyleOptionSlider option;
    const auto handle = [&] {
        option.initFrom(&bar);
        option.orientation = Qt::Vertical;
        option.minimum = bar.minimum();
        option.maximum = bar.maximum();
        option.pageStep = bar.pageStep();
        option.sliderPosition = option.sliderValue = bar.value();
        option.subControls = QStyle::SC_All;
        return bar.style()->subControlRect(QStyle::CC_ScrollBar, &option,
                                           QStyle::SC_ScrollBarSlider, &bar);
    };
    EXPECT_EQ(handle(), QRect(0, 0, 10, 100)) << "100 of 300";
    bar.setValue(200);
    EXPECT_EQ(handle().bottom(), 299) << "the end is the end";
    bar.setValue(100);
    EXPECT_EQ(handle().top(), 100);
    bar.setRange(0, 100'000);
    EXPECT_EQ(handle().height(), 24) << "never too small to take hold of";
    bar.setRange(0, 200);
    bar.setValue(100);
    bar.show();
    QTest::mouseClick(&bar, Qt::LeftButton, {}, QPoint(5, 280));
    EXPECT_EQ(bar.value(), 200) << "a click beside it goes on by a page";
    bar.setValue(100);
    QTest::mousePress(&bar, Qt::LeftButton, {}, QPoint(5, 150));
    QTest::mouseMove(&bar, QPoint(5, 100));
    QTest::mouseRelease(&bar, Qt::LeftButton, {}, QPoint(5, 100));
    EXPECT_EQ(bar.value(), 50) << "50 px of the 200 it can go";
}

TEST_P(StyleTest, ProgressFillsItsShare) {
    QProgressBar bar;
    bar.resize(202, 20);
    bar.setTextVisible(false);
    bar.setRange(0, 40);
    const QColor pale = sheetPalette().color(QPalette::AlternateBase);
    const auto filled = [&] {
        const QImage seen = bar.grab().toImage();
        int n = 0;
        for (int x = 0; x < seen.width(); ++x) n += seen.pixelColor(x, seen.height() / 2) == pale;
        return n;
    };
    bar.setValue(0);
    EXPECT_EQ(filled(), 0);
    bar.setValue(10);
    EXPECT_NEAR(filled(), 50, 2);
    bar.setValue(40);
    EXPECT_NEAR(filled(), 200, 2);
}

TEST_P(StyleTest, WhatLiesOnTheLedgeWearsItsPaletteAndSoDoesWhatItHolds) {
    QWidget ledge;
    ledge.setProperty("onLedge", true);
    auto* row = new QHBoxLayout(&ledge);
    auto* words = new QLabel("words");
    words->setProperty("soft", true);
    auto* mend = new QPushButton("Mend it");
    mend->setProperty("mend", true);
    row->addWidget(words);
    row->addWidget(mend);
    ledge.show();
    ASSERT_TRUE(QTest::qWaitForWindowExposed(&ledge));
    const Theme& theme = Theme::now();
    EXPECT_EQ(words->palette().color(words->foregroundRole()), theme["on-ledge-soft"]);
    EXPECT_GT(count(mend->grab().toImage(), theme["on-ledge"]), mend->width() * mend->height() / 2);
    EXPECT_EQ(mend->font().weight(), QFont::DemiBold);
}

INSTANTIATE_TEST_SUITE_P(Themes, StyleTest, ::testing::Values("zinc-sheet", "night-bench"),
                         [](const auto& each) {
                             return std::string(each.param) == "zinc-sheet" ? "ZincSheet"
                                                                            : "NightBench";
                         });

}  // namespace
}  // namespace zl::app
