// SPDX-License-Identifier: GPL-3.0-or-later
// Each step of cutting a subject out by itself, against made scenes with known alpha and ink and
// against sums done by hand; then the whole, and what it says of bad pictures.
#include "cut/subject/subject.h"

#include <set>

#include "cut/cut.h"
#include "cut/subject/chroma.h"
#include "cut/subject/enlarge.h"
#include "cut/subject/foreground.h"
#include "cut/subject/graph.h"
#include "cut/subject/samples.h"
#include "cut/subject/shadow.h"
#include "support/subject_scenes.h"
#include "support/support.h"

namespace zl {
namespace {

using test::bandOf;
using test::Contrast;
using test::correctedSubject;
using test::errorsOf;
using test::Form;
using test::good;
using test::subjectScene;
using test::SubjectScene;

Straight8 flat(PixelSize size, std::uint32_t colour) {
    return Straight8::cleared(size, colour);
}

// A graph small enough to cut by hand (Boykov and Jolly 2001): of three pixels in a row the middle
// one is drawn weakly to the ground, 1, and hangs on the subject by 3 and on the ground by 1.
TEST(Subject, AMinimumCutGoesWhereItCostsLeast) {
    Labels known({3, 1}, undecided);
    known.at(0, 0) = ofSubject;
    known.at(2, 0) = ofGround;
    const auto pull = [](int, int) { return -1.0F; };
    const auto link = [](float left, float right) {
        return [=](int x, int, int dx, int) { return dx == 1 && x == 0 ? left : right; };
    };
    EXPECT_EQ(good(minimumCut(known, pull, link(3, 1))).at(1, 0), ofSubject);
    EXPECT_EQ(good(minimumCut(known, pull, link(1.5F, 1))).at(1, 0), ofGround);
    EXPECT_EQ(good(minimumCut(known, pull, link(3, 1))).at(0, 0), ofSubject);
}

TEST(Subject, GrabCutNeedsBothKinds) {
    const Straight8 picture = flat({20, 20}, 0xFF808080U);
    const Labels all({20, 20}, ofSubject), sure({20, 20}, undecided);
    EXPECT_EQ(good(grabbed(picture, all, sure, 2)), all);
}

TEST(Subject, TheLaterStrokeLiesOnTop) {
    const std::vector<Stroke> strokes{{true, 3, {{10, 10}, {30, 10}}}, {false, 3, {{20, 10}}}};
    const Labels labels = drawn(strokes, {40, 20}, 1);
    EXPECT_EQ(labels.at(10, 10), ofSubject);
    EXPECT_EQ(labels.at(20, 10), ofGround);
    EXPECT_EQ(labels.at(28, 10), ofSubject);
    EXPECT_EQ(labels.at(10, 16), undecided);
    // Half the size, half the stroke.
    EXPECT_EQ(drawn(strokes, {20, 10}, 0.5).at(5, 5), ofSubject);
}

TEST(Subject, DepthIsWithinEightPercentOfTheEuclideanDistance) {
    Labels labels({61, 61}, ofGround);
    labels.at(30, 30) = ofSubject;
    const Plane depth = depthOf(labels);
    for (int y = 0; y < 61; ++y)
        for (int x = 0; x < 61; ++x) {
            const double exact = std::hypot(x - 30, y - 30);
            if (exact > 2) {
                EXPECT_NEAR(depth.row(y)[x] + 0.5, exact, 0.08 * exact + 0.2);
            }
        }
}

TEST(Subject, AWayRoundAnEdgeIsShorterThanOneOverIt) {
    Straight8 picture = flat({60, 40}, packed(200, 200, 200, 255));
    for (int y = 0; y < 32; ++y)
        for (int x = 29; x < 31; ++x) picture.row(y)[x] = packed(20, 20, 20, 255);
    const Working working = workingOf(picture, 400);
    Labels from({60, 40}, undecided);
    from.at(20, 5) = ofSubject;
    const Plane far = geodesicFrom(working, from, ofSubject);
    EXPECT_FLOAT_EQ(far.row(5)[20], 0);
    EXPECT_NEAR(far.row(5)[10], 10, 0.5);
    // Round the wall's lower end: some 2 * 28 px.
    EXPECT_GT(far.row(5)[40], 25);
}

// Of two flat colours the Laplacian's solution is the mixture itself (Levin et al. 2008: the colour
// line model holds exactly).
TEST(Subject, AlphaOfTwoFlatColoursIsTheirMixture) {
    Straight8 picture({80, 30});
    Plane truth({80, 30});
    Labels known({80, 30}, undecided);
    for (int y = 0; y < 30; ++y)
        for (int x = 0; x < 80; ++x) {
            const double a = std::clamp((x - 24) / 32.0, 0.0, 1.0);
            const auto mix = [&](double f, double b) {
                return static_cast<int>(std::lround(a * f + (1 - a) * b));
            };
            truth.row(y)[x] = static_cast<float>(a);
            picture.row(y)[x] = packed(mix(220, 20), mix(60, 90), mix(30, 160), 255);
            if (x < 20) known.at(x, y) = ofGround;
            if (x > 60) known.at(x, y) = ofSubject;
        }
    const Plane alpha = solvedAlpha(picture, known);
    double worst = 0;
    for (int y = 0; y < 30; ++y)
        for (int x = 0; x < 80; ++x)
            worst =
                std::max(worst, std::abs(static_cast<double>(alpha.row(y)[x]) - truth.row(y)[x]));
    EXPECT_LT(worst, 0.017) << "1.5 percent at either end are taken as nothing and all";
}

TEST(Subject, ColoursUnderAKnownAlphaAreThoseThatWereMixed) {
    const SubjectScene scene = subjectScene(Form::fur, Contrast::easy, 3, 320);
    const TwoColours two = coloursUnder(scene.picture, scene.alpha);
    double solved = 0, naive = 0, n = 0;
    for (int y = 0; y < scene.picture.height(); ++y)
        for (int x = 0; x < scene.picture.width(); ++x) {
            const float a = scene.alpha.row(y)[x];
            if (a <= 0.05F || a >= 0.95F) continue;
            const auto i =
                static_cast<std::size_t>(y) * static_cast<std::size_t>(scene.picture.width()) +
                static_cast<std::size_t>(x);
            const std::uint32_t p = scene.picture.row(y)[x];
            const float c[3] = {static_cast<float>(redOf(p)), static_cast<float>(greenOf(p)),
                                static_cast<float>(blueOf(p))};
            n += 1;
            for (std::size_t k = 0; k < 3; ++k) {
                solved += a * std::abs(two.subject[i][k] - scene.ink[i][k]) / 3;
                naive += a * std::abs(c[k] - scene.ink[i][k]) / 3;
                // The two mix to what is seen.
                EXPECT_NEAR(a * two.subject[i][k] + (1 - a) * two.ground[i][k], c[k], 6);
            }
        }
    ASSERT_GT(n, 100);
    EXPECT_LT(solved, 0.4 * naive) << solved / n << " against " << naive / n;
}

TEST(Subject, AnEnlargedAlphaFollowsThePicture) {
    const SubjectScene large = subjectScene(Form::blob, Contrast::easy, 5, 640);
    const Working half = workingOf(large.picture, 320);
    Plane alpha(half.size());
    for (int y = 0; y < alpha.height(); ++y)
        for (int x = 0; x < alpha.width(); ++x)
            alpha.row(y)[x] =
                (large.alpha.at(2 * x, 2 * y) + large.alpha.at(2 * x + 1, 2 * y) +
                 large.alpha.at(2 * x, 2 * y + 1) + large.alpha.at(2 * x + 1, 2 * y + 1)) /
                4;
    const Plane out = enlargedAlpha(alpha, half.pixels, large.picture);
    const Labels band = bandOf(large);
    double guided = 0, doubled = 0;
    for (int y = 0; y < out.height(); ++y)
        for (int x = 0; x < out.width(); ++x) {
            if (band.at(x, y) != undecided) continue;
            const double truth = large.alpha.row(y)[x];
            guided += std::abs(out.row(y)[x] - truth);
            doubled += std::abs(static_cast<double>(alpha.at(x / 2, y / 2)) - truth);
        }
    EXPECT_LT(guided, 0.5 * doubled);
}

// A JPEG halves chroma; what is brought back along luma is nearer to the picture that was saved,
// most of all at edges. A picture with all of its chroma is left alone.
TEST(Subject, ChromaIsBroughtBackAlongLuma) {
    // The mean error of red and blue in the band, code values.
    const auto off = [](const SubjectScene& scene, const Straight8& picture) {
        const Labels band = bandOf(scene);
        double sum = 0, count = 0;
        for (int y = 0; y < band.height(); ++y)
            for (int x = 0; x < band.width(); ++x) {
                if (band.at(x, y) != undecided) continue;
                const std::uint32_t was = scene.picture.row(y)[x], now = picture.row(y)[x];
                sum += std::abs(redOf(was) - redOf(now)) + std::abs(blueOf(was) - blueOf(now));
                count += 2;
            }
        return sum / count;
    };
    double befores = 0, afters = 0;
    for (const Form form : {Form::blob, Form::cup, Form::spikes})
        for (const Contrast contrast : {Contrast::easy, Contrast::medium}) {
            const SubjectScene scene = subjectScene(form, contrast, 20, 400);
            EXPECT_FALSE(withSharpChroma(scene.picture)) << scene.name;
            const Straight8 saved = test::throughJpeg(scene.picture);
            const auto sharp = withSharpChroma(saved);
            ASSERT_TRUE(sharp) << scene.name;
            const double before = off(scene, saved), after = off(scene, *sharp);
            EXPECT_LT(after, 0.97 * before) << scene.name;
            befores += before;
            afters += after;
            const auto again = withSharpChroma(saved, 3);
            ASSERT_TRUE(again) << scene.name;
            EXPECT_TRUE(std::ranges::equal(sharp->pixels(), again->pixels())) << scene.name;
        }
    EXPECT_LE(afters, 0.85 * befores);
    // Nothing to judge by: grey, one colour, a pixel.
    EXPECT_FALSE(withSharpChroma(flat({64, 64}, 0xFF808080)));
    EXPECT_FALSE(withSharpChroma(flat({1, 1}, 0xFF2040F0)));
}

TEST(Subject, IsTheSameOnAnyNumberOfThreads) {
    const SubjectScene scene = subjectScene(Form::hair, Contrast::medium, 4, 320);
    SubjectCut cut;
    cut.box = scene.box;
    cut.strokes = {{true, 4, {{150, 90}, {165, 95}}}};
    std::set<std::vector<std::uint32_t>> all;
    for (const int threads : {1, 2, 8, 1}) {
        const auto start = good(subjectStart(scene.picture, cut.box, threads));
        const Straight8 out = good(subjectCut(scene.picture, *start, cut, threads));
        all.emplace(out.pixels().begin(), out.pixels().end());
    }
    EXPECT_EQ(all.size(), 1U);
}

// Subject over ground is the picture again (Porter and Duff 1984, over), and the filled ground has
// no hole.
TEST(Subject, SubjectOverItsGroundIsThePictureAgain) {
    const SubjectScene scene = subjectScene(Form::defocus, Contrast::easy, 2, 320);
    SubjectCut cut;
    cut.box = scene.box;
    const auto start = good(subjectStart(scene.picture, cut.box));
    const Straight8 subject = good(subjectCut(scene.picture, *start, cut));
    cut.part = SubjectPart::filled;
    const Straight8 filled = good(subjectCut(scene.picture, *start, cut));
    cut.part = SubjectPart::ground;
    const Straight8 ground = good(subjectCut(scene.picture, *start, cut));
    EXPECT_TRUE(isOpaque(filled));
    int worst = 0;
    for (std::size_t i = 0; i < subject.pixels().size(); ++i) {
        const std::uint32_t s = subject.pixels()[i], g = filled.pixels()[i],
                            p = scene.picture.pixels()[i];
        EXPECT_NEAR(alphaOf(s) + alphaOf(ground.pixels()[i]), 255, 1);
        const auto over = [&](int f, int b) {
            return static_cast<int>(std::lround((f * alphaOf(s) + b * (255 - alphaOf(s))) / 255.0));
        };
        worst = std::max({worst, std::abs(over(redOf(s), redOf(g)) - redOf(p)),
                          std::abs(over(greenOf(s), greenOf(g)) - greenOf(p)),
                          std::abs(over(blueOf(s), blueOf(g)) - blueOf(p))});
    }
    EXPECT_LE(worst, 6);
}

TEST(Subject, StrokesHaveTheLastWord) {
    const SubjectScene scene = subjectScene(Form::blob, Contrast::easy, 6, 320);
    const auto start = good(subjectStart(scene.picture, scene.box));
    SubjectCut cut;
    cut.box = scene.box;
    const RealPoint middle = scene.box.centre();
    const auto alphaAt = [&](RealPoint p) {
        const Straight8 out = good(subjectCut(scene.picture, *start, cut));
        return alphaOf(out.row(static_cast<int>(p.y))[static_cast<int>(p.x)]);
    };
    EXPECT_EQ(alphaAt(middle), 255);
    cut.strokes = {{false, 8, {middle}}};  // a hole
    EXPECT_EQ(alphaAt(middle), 0);
    cut.strokes.push_back({true, 8, {middle}});
    EXPECT_EQ(alphaAt(middle), 255);
    cut.strokes = {{true, 3, {{3, 3}}}};
    EXPECT_EQ(alphaAt({3, 3}), 255);
}

TEST(Subject, TighterIsNoLargerAndFullerNoSmaller) {
    long long areas[3] = {};
    for (const unsigned seed : {1U, 2U, 3U}) {
        const SubjectScene scene = subjectScene(Form::person, Contrast::hard, seed, 320);
        const auto start = good(subjectStart(scene.picture, scene.box));
        for (const SubjectEdge edge :
             {SubjectEdge::tighter, SubjectEdge::asFound, SubjectEdge::fuller}) {
            SubjectCut cut;
            cut.box = scene.box;
            cut.edge = edge;
            const Labels labels = good(subjectLabels(*start, cut));
            const int at = edge == SubjectEdge::tighter ? 0 : edge == SubjectEdge::asFound ? 1 : 2;
            areas[at] += std::count(labels.all().begin(), labels.all().end(), ofSubject);
        }
    }
    EXPECT_LT(areas[0], areas[1]);
    EXPECT_LE(areas[1], areas[2]);
}

// Without a box: one of three guesses is right in half of the scenes at the least, and a trusted
// first guess in four of five.
TEST(Subject, GuessesHoldWhatTheyPromise) {
    int scenes = 0, first = 0, any = 0, trusted = 0, trustedRight = 0;
    for (int form = 0; form < test::formCount; ++form)
        for (const Contrast contrast : {Contrast::easy, Contrast::medium}) {
            const SubjectScene scene = subjectScene(static_cast<Form>(form), contrast, 30, 320);
            const auto start = good(subjectStart(scene.picture, {}));
            bool right[3] = {};
            for (int k = 0; k < std::min<int>(3, static_cast<int>(start->guesses.labels.size()));
                 ++k) {
                SubjectCut cut;
                cut.guess = k;
                const Labels labels = good(subjectLabels(*start, cut));
                Labels truth(labels.size());
                for (int y = 0; y < truth.height(); ++y)
                    for (int x = 0; x < truth.width(); ++x)
                        truth.at(x, y) = scene.alpha.row(y)[x] > 0.5F ? ofSubject : ofGround;
                right[k] = overlapOf(labels, truth) > 0.9;
            }
            ++scenes;
            first += right[0];
            any += right[0] || right[1] || right[2];
            const bool sure = start->guesses.trust >= sureTrust;
            trusted += sure;
            trustedRight += sure && right[0];
        }
    std::printf(
        "guesses: %d scenes, first right %d, one of three %d; trusted %d, right of them %d\n",
        scenes, first, any, trusted, trustedRight);
    EXPECT_GE(any, scenes / 2);
    EXPECT_GE(first, scenes * 4 / 10);
    EXPECT_GE(trustedRight * 5, trusted * 4);
}

// 75 percent of what is wrong in a fifth of the box.
TEST(Subject, TheUnsureMapHoldsMostOfWhatIsWrong) {
    double wrong = 0, held = 0, unsure = 0, count = 0;
    for (int form = 0; form < test::formCount; ++form)
        for (const Contrast contrast : {Contrast::medium, Contrast::hard}) {
            const SubjectScene scene = subjectScene(static_cast<Form>(form), contrast, 21, 320);
            const auto start = good(subjectStart(scene.picture, scene.box));
            SubjectCut cut;
            cut.box = scene.box;
            const Labels labels = good(subjectLabels(*start, cut));
            const SubjectReport report = good(subjectReport(*start, cut, labels));
            for (int y = 0; y < labels.height(); ++y)
                for (int x = 0; x < labels.width(); ++x) {
                    const bool is = scene.alpha.row(y)[x] > 0.5F;
                    if (is == (labels.at(x, y) == ofSubject)) continue;
                    wrong += 1;
                    held += report.map.at(x, y) == undecided;
                }
            unsure += report.unsure;
            count += 1;
        }
    std::printf("unsure map: %.0f %% of the wrong pixels in %.0f %% of the box\n",
                100 * held / wrong, 100 * unsure / count);
    EXPECT_GT(held / wrong, 0.75);
    EXPECT_LT(unsure / count, 0.2);
}

TEST(Subject, AShadowOnTheGroundIsKeptSeeThrough) {
    // A block on an even floor, its shadow of 40 percent to the right of its foot.
    Straight8 picture = flat({320, 200}, packed(190, 180, 170, 255));
    for (int y = 60; y < 160; ++y)
        for (int x = 110; x < 190; ++x) picture.row(y)[x] = packed(40, 60, 160, 255);
    for (int y = 148; y < 166; ++y)
        for (int x = 190; x < 225; ++x) picture.row(y)[x] = packed(114, 108, 102, 255);
    SubjectCut cut;
    cut.box = RealRect{95, 45, 110, 130};
    const auto start = good(subjectStart(picture, cut.box));
    const auto shadowIn = [&] {
        const Straight8 out = good(subjectCut(picture, *start, cut));
        EXPECT_EQ(alphaOf(out.row(100)[150]), 255);
        EXPECT_EQ(alphaOf(out.row(30)[30]), 0);
        return out.row(157)[202];
    };
    EXPECT_EQ(alphaOf(shadowIn()), 0);
    cut.keepsShadow = true;
    const std::uint32_t kept = shadowIn();
    EXPECT_NEAR(alphaOf(kept) / 255.0, 0.4, 0.12);
    EXPECT_LT(redOf(kept) + greenOf(kept) + blueOf(kept), 30);
}

// What has no subject, or is too small, grey, see-through or of one colour, gives a picture or a
// sentence; nothing crashes.
TEST(Subject, BadPicturesAndBadStrokesGiveAPictureOrASentence) {
    const SubjectScene scene = subjectScene(Form::cup, Contrast::easy, 8, 200);
    Straight8 grey = scene.picture.clone(), clear = scene.picture.clone();
    for (int y = 0; y < grey.height(); ++y)
        for (int x = 0; x < grey.width(); ++x) {
            const int v = greenOf(grey.row(y)[x]);
            grey.row(y)[x] = packed(v, v, v, 255);
            if (x < 60) clear.row(y)[x] &= 0x00FFFFFFU;
        }
    const Straight8 one = flat({1, 1}, 0xFF102030U), thin = flat({200, 1}, 0xFF102030U),
                    plain = flat({64, 48}, 0xFF808080U), none = flat({64, 48}, 0);
    for (const Straight8* picture :
         std::initializer_list<const Straight8*>{&one, &thin, &plain, &none, &grey, &clear}) {
        SCOPED_TRACE(testing::Message() << picture->width() << " x " << picture->height());
        const RealRect all = RealRect::of(picture->size());
        const std::vector<Stroke> both{{true, 2000, {{0, 0}}}, {false, 2000, {{1, 1}}}},
            everywhere{{true, 2000, {{0, 0}, {1e6, 1e6}}}}, nowhere{{true, 4, {{-5000, -5000}}}};
        for (const std::optional<RealRect>& box :
             {std::optional<RealRect>{}, std::optional(all), std::optional(RealRect{0, 0, 1, 1})})
            for (const std::vector<Stroke>& strokes :
                 {std::vector<Stroke>{}, both, everywhere, nowhere}) {
                SubjectCut cut;
                cut.box = box;
                cut.strokes = strokes;
                const auto start = subjectStart(*picture, box);
                ASSERT_TRUE(start);
                const auto labels = subjectLabels(**start, cut);
                ASSERT_TRUE(labels);
                ASSERT_TRUE(subjectReport(**start, cut, *labels));
                const auto out = subjectCut(*picture, **start, cut);
                ASSERT_TRUE(out);
                EXPECT_EQ(out->size(), picture->size());
            }
    }
    // Alpha that was there is kept.
    SubjectCut cut;
    cut.box = scene.box;
    const auto start = good(subjectStart(clear, cut.box));
    const Straight8 out = good(subjectCut(clear, *start, cut));
    for (int y = 0; y < out.height(); ++y) EXPECT_EQ(alphaOf(out.row(y)[30]), 0);
}

TEST(Subject, SaysWhatIsPlainToSee) {
    const auto ids = [](const Straight8& picture, const std::optional<RealRect>& box) {
        SubjectCut cut;
        cut.box = box;
        const auto start = good(subjectStart(picture, box));
        std::set<std::string> out;
        for (const Message& say :
             good(subjectReport(*start, cut, good(subjectLabels(*start, cut)))).says)
            out.insert(say.id);
        return out;
    };
    Straight8 onWhite = flat({160, 120}, 0xFFFFFFFFU);
    for (int y = 40; y < 80; ++y)
        for (int x = 50; x < 110; ++x) onWhite.row(y)[x] = packed(200, 40, 30, 255);
    EXPECT_TRUE(ids(onWhite, {}).contains("subject.flat"));
    const Straight8 plain = flat({64, 48}, 0xFF808080U);
    EXPECT_TRUE(ids(plain, {}).contains("subject.guess"));
    const SubjectScene scene = subjectScene(Form::blob, Contrast::easy, 9, 320);
    EXPECT_TRUE(ids(scene.picture, scene.box).empty());
}

TEST(Subject, StopsWhenItIsAskedTo) {
    const SubjectScene scene = subjectScene(Form::blob, Contrast::easy, 9, 320);
    std::stop_source source;
    source.request_stop();
    SubjectCut cut;
    const auto start = subjectStart(scene.picture, {}, 1, source.get_token());
    ASSERT_FALSE(start);
    EXPECT_EQ(start.error().code, Code::cancelled);
    const auto ready = good(subjectStart(scene.picture, {}));
    const auto out = subjectCut(scene.picture, *ready, cut, 1, source.get_token());
    ASSERT_FALSE(out);
    EXPECT_EQ(out.error().code, Code::cancelled);
    const Cut one{cut};
    EXPECT_FALSE(cutOut(scene.picture, {&one, 1}, 1, source.get_token()).has_value());
}

}  // namespace
}  // namespace zl
