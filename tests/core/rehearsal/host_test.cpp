// SPDX-License-Identifier: GPL-3.0-or-later
// The stand-in host, well behaved and not, and a whole rehearsal with it.
#include <gtest/gtest.h>

#include "encode/encode.h"
#include "rehearsal/host.h"
#include "rehearsal/rehearse.h"
#include "support/support.h"

namespace zl::test {
namespace {

Straight8 marked(int shade) {
    return painted({150, 150}, [=](int x, int y) {
        const int dx = x - 75, dy = y - 75;
        return dx * dx + dy * dy < 4000 ? packed(180, (x * 7 + y * 13) % 200, shade, 255) : 0u;
    });
}

class Misbehaving : public ::testing::Test {
  protected:
    Result<HostAnswer> handOver(Trouble trouble, std::stop_token stop = {}) {
        return StandInHost(folder_.path(), trouble)
            .handOver(bytes_, "m.png", "mark", *brief_, std::move(stop));
    }
    Folder folder_;
    const Brief* brief_ = briefs().find("corner-mark");
    Bytes bytes_ = encode(marked(0), {}).value();
};

TEST_F(Misbehaving, EachRefusalIsToldAndKeepsTheDraft) {
    ASSERT_TRUE(handOver({})->accepted);
    for (const auto what : {Trouble::What::refusesFormat, Trouble::What::refusesFrame,
                            Trouble::What::refusesWeight}) {
        const auto answer = handOver({what, 0});
        ASSERT_TRUE(answer);
        EXPECT_FALSE(answer->accepted);
        EXPECT_EQ(answer->reasons().size(), 1u);
        EXPECT_EQ(StandInHost(folder_.path()).state("mark"), HostState::draft);
    }
}

TEST_F(Misbehaving, AnUploadThatBreaksOffGoesOnFromThere) {
    const auto size = static_cast<long long>(bytes_.size());
    const Trouble cuts{Trouble::What::cutsOff, std::floor(static_cast<double>(size) / 2.5)};
    const auto first = handOver(cuts), second = handOver(cuts), third = handOver(cuts);
    ASSERT_TRUE(first && second && third);
    EXPECT_EQ(first->brokeOffAt, static_cast<long long>(cuts.amount));
    EXPECT_EQ(second->brokeOffAt, 2 * static_cast<long long>(cuts.amount));
    EXPECT_FALSE(second->accepted);
    EXPECT_TRUE(third->accepted);
    EXPECT_EQ(readFile(third->kept).value(), bytes_);
    // Another file does not go on from the part of this one.
    ASSERT_TRUE(handOver(cuts)->brokeOffAt);
    const Bytes other = encode(marked(9), {}).value();
    const auto answer = StandInHost(folder_.path(), cuts).handOver(other, "n.png", "mark", *brief_);
    ASSERT_TRUE(answer);
    if (answer->accepted)
        EXPECT_EQ(readFile(answer->kept).value(), other);
    else
        EXPECT_EQ(answer->brokeOffAt, static_cast<long long>(cuts.amount));
}

TEST_F(Misbehaving, ASlowHostCanBeCancelledAndKeepsWhatItHad) {
    std::stop_source stop;
    stop.request_stop();
    const auto answer = handOver({Trouble::What::slow, 60}, stop.get_token());
    ASSERT_FALSE(answer);
    EXPECT_EQ(answer.error().code, Code::cancelled);
    EXPECT_EQ(StandInHost(folder_.path()).state("mark"), HostState::nothing);
    EXPECT_TRUE(handOver({Trouble::What::slow, 0.05})->accepted);
}

TEST_F(Misbehaving, ALostDraftIsToldAndTheFileIsHandedOverAgain) {
    ASSERT_TRUE(handOver({})->accepted);
    const auto lost =
        StandInHost(folder_.path(), {Trouble::What::losesDraft, 0}).publish("mark", *brief_);
    ASSERT_FALSE(lost);
    EXPECT_NE(lost.error().what.find("lost the draft"), std::string::npos);
    EXPECT_EQ(StandInHost(folder_.path()).state("mark"), HostState::nothing);
    ASSERT_TRUE(handOver({})->accepted);
    EXPECT_TRUE(StandInHost(folder_.path()).publish("mark", *brief_));
    EXPECT_EQ(StandInHost(folder_.path()).state("mark"), HostState::published);
}

TEST_F(Misbehaving, ACoarseHostShowsWorseCopies) {
    const Straight8 picture = textured({1280, 720});
    const auto fine = displayCopy(picture, 412),
               coarse = displayCopy(
                   picture, 412, StandInHost("/nowhere", {Trouble::What::coarse, 0}).copyQuality());
    ASSERT_TRUE(fine && coarse);
    EXPECT_LT(coarse->size(), fine->size());
}

// A JPEG where the brief accepts one: taken, and shown with the solid corners it has.
TEST(Host, TakesAMarkWithoutAlphaAndSaysThatItTurnsSolid) {
    const Folder folder;
    const Bytes jpeg = encode(Straight8::cleared({150, 150}, packed(255, 255, 255, 255)),
                              {Content::jpeg, 90, Chroma::full, Effort::release})
                           .value();
    const auto answer =
        StandInHost(folder.path()).handOver(jpeg, "m.jpg", "mark", *briefs().find("corner-mark"));
    ASSERT_TRUE(answer);
    EXPECT_TRUE(answer->accepted);
    EXPECT_TRUE(std::any_of(answer->said.begin(), answer->said.end(),
                            [](const HostSaid& s) { return s.verdict == Verdict::watch; }));
    // Where no JPEG is accepted it is refused.
    const auto overlay = encode(Straight8::cleared({1920, 1080}, packed(9, 9, 9, 255)),
                                {Content::jpeg, 90, Chroma::full, Effort::quick})
                             .value();
    EXPECT_FALSE(StandInHost(folder.path())
                     .handOver(overlay, "o.jpg", "overlay", *briefs().find("stream-overlay"))
                     ->accepted);
}

// One errand does what window and command line ask of a rehearsal.
TEST(Rehearse, HandsOverPublishesAndDrawsEverySurface) {
    const Folder folder;
    const Brief& brief = *briefs().find("corner-mark");
    const Path file = folder / "m.png";
    ASSERT_TRUE(writeFile(file, encode(marked(0), {}).value(), Replace::yes));
    Errand errand{folder / "host", {}, "mark", brief};
    errand.handOver = file;
    const auto draft = rehearse(errand);
    ASSERT_TRUE(draft);
    EXPECT_TRUE(draft->answer.accepted);
    EXPECT_EQ(draft->state, HostState::draft);
    EXPECT_EQ(draft->file, "m.png");
    EXPECT_EQ(draft->surfaces.size(), sightsOf(brief, {}).size());
    EXPECT_EQ(draft->copies->size(), (PixelSize{150, 150}));

    Errand look{folder / "host", {}, "mark", brief};
    look.publish = true;
    const auto published = rehearse(look);
    ASSERT_TRUE(published);
    EXPECT_EQ(published->state, HostState::published);
    ASSERT_EQ(published->surfaces.size(), draft->surfaces.size());
    for (std::size_t i = 0; i < draft->surfaces.size(); ++i)
        EXPECT_EQ(encode(published->surfaces[i].picture, {}).value(),
                  encode(draft->surfaces[i].picture, {}).value())
            << draft->surfaces[i].id;
}

TEST(Rehearse, WhatIsRefusedIsNotPublished) {
    const Folder folder;
    const Path file = folder / "m.png";
    ASSERT_TRUE(writeFile(file, encode(marked(0), {}).value(), Replace::yes));
    Errand errand{
        folder / "host", {Trouble::What::refusesFormat, 0}, "mark", *briefs().find("corner-mark")};
    errand.handOver = file;
    errand.publish = true;
    const auto outcome = rehearse(errand);
    ASSERT_TRUE(outcome);
    EXPECT_FALSE(outcome->answer.accepted);
    EXPECT_EQ(outcome->state, HostState::nothing);
    EXPECT_TRUE(outcome->surfaces.empty());
    EXPECT_EQ(outcome->copies, nullptr);
}

TEST(Rehearse, ASliceIsDrawnWhereItsOwnBriefIsMet) {
    const Folder folder;
    const Path file = folder / "p.png";
    ASSERT_TRUE(writeFile(file, encode(textured({1920, 600}), {}).value(), Replace::yes));
    Errand errand{folder / "host", {}, "page", *briefs().find("free-frame")};
    errand.handOver = file;
    const Brief& header = *briefs().find("page-header");
    errand.slices = {{{"inside", {400, 0, 1400, 200}}, header},
                     {{"outside", {1800, 0, 2000, 200}}, header}};
    const auto outcome = rehearse(errand);
    ASSERT_TRUE(outcome);
    ASSERT_FALSE(outcome->slices.empty());
    for (const auto& [slice, surface] : outcome->slices) {
        EXPECT_EQ(slice.name, "inside") << "what reaches past the file is left out";
        EXPECT_TRUE(surface.id.starts_with("slice-inside-")) << surface.id;
    }
}

}  // namespace
}  // namespace zl::test
