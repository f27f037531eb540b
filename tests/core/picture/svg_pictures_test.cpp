// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/svg_pictures.h"

#include <gtest/gtest.h>

#include "base/bytes.h"
#include "picture/decode.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

SvgPictures heldIn(const std::string& inside, const std::string& root = "width='40' height='20'") {
    const Bytes svg = test::bytesOf(
        "<svg xmlns='http://www.w3.org/2000/svg' "
        "xmlns:xlink='http://www.w3.org/1999/xlink' " +
        root + ">" + inside + "</svg>");
    return good(readFacts(svg, "a.svg")).held;
}

// 20 × 10 px, the left half black and the right half white.
std::string halves() {
    return "data:image/png;base64," + base64(test::png(test::painted({20, 10}, [](int x, int) {
               return x < 10 ? packed(0, 0, 0, 255) : packed(255, 255, 255, 255);
           })));
}

std::string image(const std::string& attributes) {
    return "<image " + attributes + " href='" + halves() + "'/>";
}

TEST(SvgPictures, WhatIsShownAndNotHeldIsTold) {
    const auto missing = [](const std::string& inside) { return heldIn(inside).missing; };
    EXPECT_EQ(missing("<image xlink:href='photo.jpg' width='9' height='9'/>"), "photo.jpg");
    EXPECT_EQ(missing("<s:image xmlns:s='http://www.w3.org/2000/svg'\n href=\"../a b.png\"/>"),
              "../a b.png");
    EXPECT_EQ(missing("<image href='data:image/png;base64,AAAA'/><image width='3' href='b.png'/>"),
              "b.png");
    EXPECT_EQ(
        missing(
            "<image href='#inside'/><feImage href='x.png'/><text>an image of href='c.png'</text>"
            "<!-- <image href='d.png'/> -->"),
        "");
    EXPECT_EQ(picturesInSvg(test::bytesOf("<svg><image href='unclosed"), {1, 1}, {}),
              SvgPictures{});
}

// SVG 2, chapters 7 (transforms), 8.2 (viewBox), 8.6 (preserveAspectRatio): worked by hand.
TEST(SvgPictures, EnlargementFollowsViewBoxesAndTransforms) {
    const auto enlarged = [](const std::string& inside, const std::string& root) {
        const SvgPictures held = heldIn(inside, root);
        EXPECT_FALSE(held.unmeasured);
        return held.enlarged;
    };
    const std::string plain = "width='40' height='20'";
    EXPECT_EQ(enlarged("<rect width='9' height='9'/>", plain), 0);
    EXPECT_DOUBLE_EQ(enlarged(image("width='40' height='20'"), plain), 2);
    EXPECT_DOUBLE_EQ(enlarged(image("width='50%'"), plain), 1);
    EXPECT_DOUBLE_EQ(enlarged(image(""), plain), 1);
    EXPECT_DOUBLE_EQ(enlarged(image("width='40' height='10'"), plain), 1) << "all of it is shown";
    EXPECT_DOUBLE_EQ(
        enlarged(image("width='40' height='10' preserveAspectRatio='xMidYMid slice'"), plain), 2);
    EXPECT_DOUBLE_EQ(enlarged(image("width='60' height='10' preserveAspectRatio='none'"), plain),
                     3);
    EXPECT_DOUBLE_EQ(
        enlarged("<g transform='translate(3) scale(.5 3)'>" + image("") + "</g>", plain), 3);
    EXPECT_NEAR(
        enlarged("<g transform='rotate(30, 4 4)'>" + image("transform='matrix(0 2 -2 0 5 5)'") +
                     "</g><g>" + image("") + "</g>",
                 plain),
        2, 1e-9);
    EXPECT_DOUBLE_EQ(enlarged(image(""), "width='100' height='50' viewBox='0 0 20 10'"), 5);
    EXPECT_DOUBLE_EQ(
        enlarged("<svg width='20' height='10' viewBox='0 0 80 40'>" + image("") + "</svg>",
                 "width='100' height='50' viewBox='0 0 20 10'"),
        5 * 0.25);
}

// What librsvg draws: where the two halves meet, and where the picture ends.
TEST(SvgPictures, EnlargementIsWhatIsDrawn) {
    for (const auto& [inside, root] :
         {std::pair{"<g transform='scale(1.5)'>" + image("width='40' height='20'") + "</g>",
                    std::string("width='240' height='120' viewBox='0 0 80 40'")},
          std::pair{image("width='40'"),
                    std::string("width='240' height='120' viewBox='0 0 80 40'")},
          std::pair{image("width='50%' height='100%'"),
                    std::string("width='240' height='120' viewBox='0 0 100 60' "
                                "preserveAspectRatio='none'")}}) {
        const std::string head = "<svg xmlns='http://www.w3.org/2000/svg' ";
        const Picture drawn =
            good(decode(test::bytesOf(head + root + ">" + inside + "</svg>"), "a.svg"));
        int dark = 0;
        for (int y = 0; y < 120; ++y) {
            const std::uint32_t* row = drawn.pixels->row(y);
            dark = std::max(dark, static_cast<int>(std::count_if(row, row + 240, [](auto pixel) {
                                return alphaOf(pixel) > 127 && redOf(pixel) < 128;
                            })));
        }
        EXPECT_NEAR(dark, 10 * drawn.facts.held.enlarged, 1) << root;
    }
}

TEST(SvgPictures, WhatIsNotFollowedIsUnmeasured) {
    EXPECT_TRUE(heldIn("<defs><pattern id='p'>" + image("") + "</pattern></defs>").unmeasured);
    EXPECT_TRUE(heldIn(image("width='10mm'")).unmeasured);
    EXPECT_EQ(heldIn("<image href='data:image/svg+xml;base64,PHN2Zy8+' width='9'/>"), SvgPictures{})
        << "that has no pixels";
    EXPECT_EQ(heldIn("<image href='data:image/png;base64,AAAA' width='9'/>"), SvgPictures{})
        << "nothing is drawn of it";
}

}  // namespace
}  // namespace zl
