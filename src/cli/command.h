// SPDX-License-Identifier: GPL-3.0-or-later
// What every command shares: its row in the one table, where output goes, how errors become exit
// codes.
#pragma once

#include <functional>
#include <memory>
#include <span>
#include <string>

#include "base/file.h"
#include "base/json_fwd.h"
#include "brief/brief.h"
#include "encode/fit.h"
#include "options.h"
#include "picture/decode.h"
#include "readings/reading.h"

namespace zl::cli {

enum Exit { done = 0, readingFailed = 1, badUsage = 2, unreadable = 3, unwritable = 4 };

int exitFor(Code code);

// Options that every command has.
struct Common {
    bool json = false;
    bool replace = false;
    Replace replacing() const { return replace ? Replace::yes : Replace::no; }
};

// One row a command: `declare` adds its options and gives what runs it.
struct Command {
    const char *name, *help;
    bool writes;  // it takes --replace
    std::function<Result<int>()> (*declare)(Options&, const Common&);
};
std::span<const Command> allCommands();

// Prints one JSON document on standard output.
void print(const OrderedJson& json);
// A progress line on standard error while it is a terminal.
void showProgress(const std::string& what, double part);
void endProgress();

[[nodiscard]] Result<Briefs> shippedBriefs();
// Code::badUsage when there is none of that id.
[[nodiscard]] Result<const Brief*> briefNamed(const Briefs& briefs, const std::string& id);
// An input is never overwritten, and an existing file only when asked.
[[nodiscard]] Result<void> mayWrite(const Path& out, const std::vector<Path>& inputs,
                                    const Common& common);
// The format that an ending asks for; Code::badUsage when it is none that can be written.
[[nodiscard]] Result<Content> formatFor(const std::string& ending);
// "1280x720"
[[nodiscard]] Result<PixelSize> parseSize(const std::string& text);
// "X,Y,..." of exactly `count` numbers.
[[nodiscard]] Result<std::vector<double>> parseNumbers(const std::string& text, std::size_t count,
                                                       const char* option);

// A size whose one side may be left out: "800x", "x600". That side is 0 then; `of` fills it in the
// shape of a picture.
[[nodiscard]] Result<PixelSize> parseOpenSize(const std::string& text);
PixelSize filledIn(PixelSize size, PixelSize of);
// Bytes, decimal: "200000", "200k", "2MB", "1.5M".
[[nodiscard]] Result<long long> parseBytes(const std::string& text);
// " Did you mean ...?" for a word that is nearly one of those; else nothing.
std::string didYouMean(const std::string& word, const std::vector<std::string>& known);

// "-" is standard input.
[[nodiscard]] Result<Bytes> readInput(const std::string& file);
std::string nameOfInput(const std::string& file);
// Where the outcome for one input goes: `out` itself, or into the folder `out` when there are
// several or it is one.
Path outFor(const std::string& out, const std::string& file, bool several, Content content);
// A picture read for a command: bytes of a file or of standard input. What is dropped of it
// (further pictures) is told.
struct Input {
    Bytes bytes;
    std::string name;
    Picture picture;
};
[[nodiscard]] Result<Input> readPicture(const std::string& file);
// For what will be made no smaller than the frame that `least` gives for the picture's size; as
// decodeFor reads it.
[[nodiscard]] Result<Input> readPictureFor(const std::function<PixelSize(PixelSize)>& least,
                                           const std::string& file);
// The format of what is written: as named, else by the ending; "-" needs a name.
[[nodiscard]] Result<Content> formatAsked(const std::string& format, const std::string& out);
// See-through parts laid on "#RRGGBB" where the format has no alpha; an empty matte changes
// nothing.
[[nodiscard]] Result<void> layOn(const std::string& matte, Content format, Straight8& pixels);
// Tells when a picture became larger; the factor, or null.
OrderedJson tellEnlarged(const std::string& name, double factor);

// Writes a file, or standard output for "-".
[[nodiscard]] Result<void> writeOutput(const Path& out, ByteView bytes, const std::string& input,
                                       const Common& common);

// What a command says of one file.
struct Told {
    int exit = Exit::done;
    std::shared_ptr<const OrderedJson> json;
    std::string text;  // for people
};
Told told(int exit, OrderedJson json, std::string text);
// One document for one file; {"files": [...]} for several, of which one that fails does not stop
// the others.
[[nodiscard]] Result<int> eachFile(const std::vector<std::string>& files, const Common& common,
                                   const std::function<Result<Told>(const std::string& file)>& run);

std::string wordsOf(const std::vector<Reading>& readings);
void printReadings(const std::vector<Reading>& readings);

std::function<Result<int>()> declareBriefs(Options&, const Common&);
std::function<Result<int>()> declareCheck(Options&, const Common&);
std::function<Result<int>()> declareRender(Options&, const Common&);
std::function<Result<int>()> declareCrop(Options&, const Common&);
std::function<Result<int>()> declareFit(Options&, const Common&);
std::function<Result<int>()> declareResize(Options&, const Common&);
std::function<Result<int>()> declareRelease(Options&, const Common&);
std::function<Result<int>()> declareRehearse(Options&, const Common&);
std::function<Result<int>()> declareCut(Options&, const Common&);
std::function<Result<int>()> declareEdges(Options&, const Common&);
std::function<Result<int>()> declareFinish(Options&, const Common&);
std::function<Result<int>()> declareLetter(Options&, const Common&);
std::function<Result<int>()> declareOver(Options&, const Common&);
std::function<Result<int>()> declareVideo(Options&, const Common&);
std::function<Result<int>()> declareStill(Options&, const Common&);
std::function<Result<int>()> declareBurn(Options&, const Common&);
std::function<Result<int>()> declareLegible(Options&, const Common&);
std::function<Result<int>()> declareStamp(Options&, const Common&);
std::function<Result<int>()> declareMap(Options&, const Common&);
std::function<Result<int>()> declareReport(Options&, const Common&);
std::function<Result<int>()> declareDemo(Options&, const Common&);

}  // namespace zl::cli
