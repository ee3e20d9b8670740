// A report is recomputed from its captures by a stranger: it holds, or what does not is said.

#include "batch_program.h"

#include <fstream>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace fulvex {
namespace {

namespace fs = std::filesystem;
using testing::HasSubstr;

class CheckProgram : public testing::Test {
protected:
    CheckProgram()
    {
        fs::copy(std::string(FULVEX_DEMO) + "/captures/acceptance/cold.npy", folder / "cold.npy");
        folder.write("link.fulvex", R"json({"fulvex": 1, "title": "Camera link <b>&</b>",
            "device": {"name": "Tide station camera link", "serial": "BW-07"},
            "captures": [{"id": "r", "file": "cold.npy", "import": {"sample_interval": 1.25e-10}}],
            "channels": [{"id": "p", "capture": "r", "column": 0, "scale": 1.220703125e-05, "unit": "V"},
                {"id": "n", "capture": "r", "column": 1, "scale": 1.220703125e-05, "unit": "V"},
                {"id": "link", "formula": "p - n", "unit": "V"}],
            "clocks": [{"id": "loop", "source": "link", "method": "pll", "order": 2, "bandwidth": 1.5e6}],
            "eyes": [{"id": "eye", "source": "link", "clock": "loop"}],
            "masks": [{"id": "mask", "eye": "eye", "mask": "brackwater-camera-link"}],
            "measurements": [{"id": "tr", "quantity": "rise_time", "source": "link", "limit": {"max": 3e-10}},
                {"id": "tie", "quantity": "time_interval_error", "clock": "loop"},
                {"id": "swing", "quantity": "amplitude", "source": "link", "limit": {"min": 0.6}}],
            "budgets": [{"id": "jitter", "clock": "loop"}]})json");
    }
    test::Outcome run(const std::string &arguments) const { return test::runBatch(folder, arguments); }
    void makeReport() const
    {
        const test::Outcome made = run("run link.fulvex --out report");
        ASSERT_EQ(made.status, 1) << made.err; // the rise time fails
    }
    std::string command(const std::string &words) const
    {
        const std::string out = folder / "said";
        const int status =
            std::system(("cd '" + folder.path().string() + "' && " + words + " > '" + out + "' 2>&1").c_str());
        return std::to_string(status) + "\n" + test::readAll(out);
    }
    test::TemporaryFolder folder;
};

TEST_F(CheckProgram, EachKindOfReportHoldsAndIsOpenedAgain)
{
    makeReport();
    for (const char *name : {"report.pdf", "report.html", "results.json"}) {
        const test::Outcome held = run(std::string("check report/") + name);
        EXPECT_EQ(held.status, 0) << name << held.out << held.err;
        EXPECT_THAT(held.out, HasSubstr("The seal is whole"));
        EXPECT_THAT(held.out, HasSubstr("It holds."));
    }
    // The same project comes out of it: run again, the same numbers.
    for (const char *name : {"report.pdf", "report.html"}) {
        fs::copy_file(folder / (std::string("report/") + name), folder / name);
        const test::Outcome again = run(std::string("run ") + name + " --out again");
        EXPECT_EQ(again.status, 1) << again.err;
        EXPECT_EQ(run("compare report/results.json again/results.json").status, 0) << name;
        EXPECT_EQ(run(std::string("compare ") + name + " again/results.json").status, 0) << name;
    }
}

TEST_F(CheckProgram, AnyChangeIsNoticed)
{
    makeReport();
    const auto change = [&](const std::string &name, const std::string &from, const std::string &to) {
        std::string text = test::readAll(folder / ("report/" + name));
        const std::size_t at = text.find(from);
        ASSERT_NE(at, std::string::npos) << name << " " << from;
        text.replace(at, from.size(), to);
        fs::create_directories(folder / "changed");
        std::ofstream(folder / ("changed/" + name), std::ios::binary) << text;
    };
    // A number that was made nicer by hand.
    const auto json = nlohmann::json::parse(test::readAll(folder / "report/results.json"));
    const std::string mean = json.at("measurements").at(0).at("mean").dump();
    change("results.json", "\"mean\": " + mean, "\"mean\": 2.9e-10");
    const test::Outcome number = run("check changed/results.json --captures .");
    EXPECT_EQ(number.status, 1);
    EXPECT_THAT(number.out, HasSubstr("The seal is broken"));
    EXPECT_THAT(number.out, HasSubstr("(tr): it says 290"));
    // What people read, in the page.
    change("report.html", "<td class=\"fail\">", "<td class=\"pass\">");
    EXPECT_THAT(run("check changed/report.html --captures .").out, HasSubstr("The seal is broken"));
    change("report.pdf", "/Title", "/TitlE");
    EXPECT_EQ(run("check changed/report.pdf --captures .").status, 1);
    // A file beside a results.json.
    std::ofstream(folder / "report/measurements.csv", std::ios::app) << "x\n";
    EXPECT_THAT(run("check report/results.json").out, HasSubstr("measurements.csv beside it was changed"));
}

TEST_F(CheckProgram, CapturesAreFoundWhereverTheyLieAndMustBeThose)
{
    makeReport();
    fs::create_directories(folder / "elsewhere/deep");
    fs::create_directories(folder / "alone");
    fs::rename(folder / "cold.npy", folder / "elsewhere/deep/other name.npy");
    fs::rename(folder / "report/report.pdf", folder / "alone/report.pdf");
    const test::Outcome found = run("check alone/report.pdf --captures elsewhere");
    EXPECT_EQ(found.status, 0) << found.out << found.err;
    // As the project says, from another folder.
    fs::rename(folder / "elsewhere/deep/other name.npy", folder / "elsewhere/cold.npy");
    EXPECT_EQ(run("check alone/report.pdf --captures elsewhere").status, 0);
    // Another capture in its place gives other numbers, and is told.
    fs::copy(std::string(FULVEX_DEMO) + "/captures/acceptance/warm.npy", folder / "alone/cold.npy");
    const test::Outcome other = run("check alone/report.pdf");
    EXPECT_EQ(other.status, 1);
    EXPECT_THAT(other.out, HasSubstr("Capture r is another file"));
    EXPECT_THAT(other.out, HasSubstr("It does not hold"));
    fs::remove_all(folder / "alone/cold.npy");
    fs::remove_all(folder / "elsewhere");
    const test::Outcome gone = run("check alone/report.pdf");
    EXPECT_EQ(gone.status, 2);
    EXPECT_THAT(gone.err, HasSubstr("--captures"));
    EXPECT_EQ(run("check link.fulvex").status, 2);
    EXPECT_EQ(run("check nowhere.pdf").status, 2);
}

TEST_F(CheckProgram, ThePdfIsWholeToItsReaders)
{
    makeReport();
    const std::string words = command("pdftotext -layout report/report.pdf -");
    EXPECT_THAT(words, HasSubstr("Fails"));
    EXPECT_THAT(words, HasSubstr("1 of 3 fails: rise time, 10–90 % of link"));
    EXPECT_THAT(words, HasSubstr("2 pass, the tightest by"));
    EXPECT_THAT(words, HasSubstr("Camera link <b>&</b>")); // as it is written, sign by sign
    EXPECT_THAT(words, testing::ContainsRegex("569\\.[0-9] ± 0\\.1 ps"));
    EXPECT_THAT(words, HasSubstr("−400 mV")); // at the axis of an eye
    EXPECT_THAT(words, HasSubstr("Contents"));
    EXPECT_THAT(words, testing::ContainsRegex("1 of [0-9]+"));
    EXPECT_THAT(command("pdfinfo report/report.pdf"), testing::StartsWith("0\n"));
    EXPECT_THAT(command("pdfdetach -list report/report.pdf"), HasSubstr("results.json"));
    EXPECT_THAT(command("pdfdetach -save 1 -o taken.json report/report.pdf"), testing::StartsWith("0\n"));
    EXPECT_EQ(nlohmann::json::parse(test::readAll(folder / "taken.json")).at("document").at("title"),
              "Camera link <b>&</b>");
    const std::string outline = command("pdftohtml -xml -i -stdout report/report.pdf");
    EXPECT_THAT(outline, testing::ContainsRegex("<outline>(.|\n)*How the numbers were made(.|\n)*</outline>"));
    // Every font is embedded.
    const std::string fonts = command("pdffonts report/report.pdf");
    EXPECT_THAT(fonts, HasSubstr("Inter-Regular"));
    EXPECT_THAT(fonts, testing::ContainsRegex("Identity-H +yes"));
    EXPECT_THAT(fonts, testing::Not(testing::ContainsRegex("Identity-H +no")));
    EXPECT_THAT(command("pdftoppm -r 40 -png report/report.pdf page"), testing::StartsWith("0\n"));
}

/// A capture beside a project: measured as it, whichever comes first.
TEST_F(CheckProgram, ACaptureIsComparedAsTheProjectMeasuresIt)
{
    makeReport();
    fs::copy(std::string(FULVEX_DEMO) + "/captures/acceptance/warm.npy", folder / "warm.npy");
    const test::Outcome found = run("compare link.fulvex warm.npy --out there"),
                        same = run("compare cold.npy link.fulvex");
    EXPECT_EQ(found.status, 1) << found.err;
    const auto json = nlohmann::json::parse(test::readAll(folder / "there/comparison.json"));
    EXPECT_TRUE(json.at("settings").empty());
    EXPECT_EQ(json.at("other_captures").size(), 1u);
    EXPECT_EQ(same.status, 0) << same.out << same.err;
    EXPECT_EQ(run("compare cold.npy warm.npy").status, 2);    // by which project?
    std::string text = test::readAll(folder / "link.fulvex"); // and in a project's own report
    text.insert(text.rfind('}'), R"(, "comparisons": [{"id": "warm", "file": "warm.npy"}])");
    folder.write("beside.fulvex", text);
    EXPECT_LE(run("run beside.fulvex --out beside").status, 1);
    const std::string html = test::readAll(folder / "beside/report.html");
    EXPECT_THAT(html, HasSubstr("Compared with warm.npy"));
    EXPECT_THAT(html, HasSubstr("The numbers, in units of their uncertainty"));
    EXPECT_EQ(run("compare link.fulvex nowhere.npy").status, 2);
}

/// Read by a parser that is none of ours: every element is closed in its turn, each link leads to something, and
/// nothing is fetched; what a title says stays words.
TEST_F(CheckProgram, TheHtmlIsWholeToItsReaders)
{
    makeReport();
    folder.write("parse.py", R"py(
import html.parser, sys
empty = {"meta", "img", "br", "input"}
class Reader(html.parser.HTMLParser):
    def __init__(self):
        super().__init__()
        self.open, self.ids, self.links, self.tags, self.title = [], set(), [], {}, ""
    def handle_starttag(self, tag, attrs):
        attrs = dict(attrs)
        self.tags[tag] = self.tags.get(tag, 0) + 1
        if "id" in attrs:
            assert attrs["id"] not in self.ids, attrs["id"]
            self.ids.add(attrs["id"])
        for key in ("href", "src", "xlink:href"):
            if key in attrs: self.links.append(attrs[key])
        if tag not in empty: self.open.append(tag)
    def handle_startendtag(self, tag, attrs):
        self.handle_starttag(tag, attrs)
        if tag not in empty: self.open.pop()
    def handle_endtag(self, tag):
        assert self.open and self.open[-1] == tag, (tag, self.open)
        self.open.pop()
    def handle_data(self, data):
        if self.open and self.open[-1] == "h1": self.title += data
reader = Reader()
reader.feed(open(sys.argv[1], encoding="utf-8").read())
reader.close()
assert not reader.open, reader.open
for link in reader.links:
    assert link.startswith("data:image/png;base64,") or (link[0] == "#" and link[1:] in reader.ids), link[:80]
assert reader.tags["svg"] > 5 and reader.tags["table"] > 3 and "b" in reader.tags
print(reader.title)
)py");
    const std::string read = command("python3 parse.py report/report.html");
    EXPECT_THAT(read, testing::StartsWith("0\n")) << read;
    EXPECT_THAT(read, HasSubstr("Camera link <b>&</b>"));
}

} // namespace
} // namespace fulvex
