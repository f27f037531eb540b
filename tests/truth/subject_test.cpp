// SPDX-License-Identifier: GPL-3.0-or-later
// Subjects of four free photographs (scikit-image's), against masks drawn by hand, some 10 px off
// at worst: what a guess and a box alone come to, before any stroke. docs/subject.md shows them.
#include "cut/subject/subject.h"

#include <fmt/core.h>

#include "corpus.h"
#include "cut/shape.h"
#include "picture/decode.h"

namespace zl::truth {
namespace {

using Outline = std::vector<RealPoint>;

struct Drawn {
    const char* name;
    std::vector<Outline> subject;
};

// px of the photographs.
const std::vector<Drawn>& masks() {
    static const std::vector<Drawn> all{
        {"coffee",
         {{{172, 80},  {190, 40},  {235, 20},  {290, 17},  {345, 25},  {385, 50},  {402, 72},
           {424, 68},  {424, 80},  {412, 110}, {445, 140}, {472, 180}, {480, 215}, {475, 260},
           {450, 310}, {405, 355}, {345, 380}, {285, 385}, {220, 372}, {150, 340}, {105, 295},
           {80, 245},  {78, 200},  {95, 150},  {130, 110}}}},
        {"astronaut",
         {{{152, 70},  {160, 40},  {185, 20},  {225, 15},  {265, 25},  {290, 50},  {302, 90},
           {298, 120}, {280, 135}, {262, 150}, {258, 165}, {290, 200}, {305, 235}, {335, 258},
           {352, 300}, {362, 345}, {330, 365}, {290, 420}, {280, 460}, {285, 512}, {60, 512},
           {28, 490},  {22, 440},  {25, 330},  {40, 285},  {60, 250},  {100, 215}, {115, 180},
           {140, 155}, {180, 150}, {185, 135}, {160, 115}}}},
        {"chelsea",
         {{{30, 40},
           {40, 0},
           {395, 0},
           {365, 50},
           {350, 100},
           {345, 140},
           {335, 200},
           {310, 250},
           {280, 285},
           {250, 300},
           {0, 300},
           {0, 140}}}},
        {"camera",
         {{{158, 130}, {165, 90},  {190, 70},  {220, 65},  {255, 85},  {268, 110},
           {258, 130}, {262, 145}, {322, 140}, {325, 175}, {330, 190}, {322, 205},
           {305, 210}, {302, 270}, {290, 290}, {250, 310}, {220, 300}, {200, 330},
           {145, 385}, {150, 430}, {148, 512}, {120, 512}, {105, 450}, {95, 512},
           {0, 512},   {0, 260},   {50, 210},  {75, 170},  {110, 130}, {150, 110}},
          {{285, 215},
           {300, 215},
           {305, 310},
           {400, 510},
           {388, 512},
           {310, 350},
           {298, 330},
           {298, 480},
           {288, 480},
           {288, 340},
           {245, 512},
           {235, 512},
           {280, 320}}}}};
    return all;
}

Labels maskOf(const Drawn& drawn, const Working& working, PixelSize size) {
    Labels out(working.size(), ofGround);
    for (const Outline& outline : drawn.subject) {
        const Plane inside = coverageOf(outline, size);
        for (int y = 0; y < out.height(); ++y)
            for (int x = 0; x < out.width(); ++x)
                if (inside.at(static_cast<int>((x + 0.5) / working.scale),
                              static_cast<int>((y + 0.5) / working.scale)) > 0.5F)
                    out.at(x, y) = ofSubject;
    }
    return out;
}

TEST(Subject, OfPhotographsWithHandMadeMasks) {
    std::vector<double> boxed;
    int trusted = 0, trustedRight = 0;
    for (const Drawn& drawn : masks()) {
        SCOPED_TRACE(drawn.name);
        const Path file = corpusFolder() / "photos" / (std::string(drawn.name) + ".png");
        const Picture picture = test::good(decode(test::good(readFile(file)), drawn.name));
        const PixelSize size = picture.pixels->size();
        const auto found = test::good(subjectStart(*picture.pixels, {}, 2));
        const Labels truth = maskOf(drawn, found->working, size);
        double first = 0, best = 0;
        for (int k = 0; k < mostGuesses; ++k) {
            SubjectCut cut;
            cut.guess = k;
            const double overlap = overlapOf(test::good(subjectLabels(*found, cut)), truth);
            if (k == 0) first = overlap;
            best = std::max(best, overlap);
        }
        const PixelRect box = boxOf(truth, ofSubject);
        constexpr double room = 6;
        SubjectCut cut;
        cut.box =
            RealRect{box.left / found->working.scale - room, box.top / found->working.scale - room,
                     box.width() / found->working.scale + 2 * room,
                     box.height() / found->working.scale + 2 * room};
        const auto start = test::good(subjectStart(*picture.pixels, cut.box, 2));
        const double fromBox = overlapOf(test::good(subjectLabels(*start, cut)), truth);
        boxed.push_back(fromBox);
        const bool sure = found->guesses.trust >= sureTrust;
        trusted += sure;
        trustedRight += sure && first > 0.75;
        fmt::print("| {} | {:.2f} | {:.2f} | {:.2f} | {:.2f} |\n", drawn.name, found->guesses.trust,
                   first, best, fromBox);
    }
    std::sort(boxed.begin(), boxed.end());
    EXPECT_GT(boxed[boxed.size() / 2], 0.7);
    EXPECT_EQ(trustedRight, trusted);
}

}  // namespace
}  // namespace zl::truth
