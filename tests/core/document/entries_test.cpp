// What is said once of each entry's fields, and what goes by it.

#include "document_json.h"
#include "field_text.h"
#include "formula.h"
#include "references.h"

#include <gmock/gmock.h>

using namespace fulvex;
using testing::ElementsAre;
using testing::HasSubstr;

namespace {

Document everything()
{
    return parseDocument(R"JSON({"fulvex": 1, "title": "T",
  "captures": [{"id": "run", "file": "a.npy"}],
  "channels": [{"id": "p", "capture": "run"}, {"id": "n", "capture": "run", "column": "N"},
               {"id": "d", "formula": "p - n * fc + 3p"}, {"id": "e", "formula": "twice(d)"}],
  "parameters": [{"id": "fc", "value": 2e7}],
  "functions": [{"id": "twice", "arguments": ["x"], "formula": "2 * x", "help": "again"}],
  "regions": [{"id": "start_up", "start": 1e-6, "stop": 2e-6}],
  "levels": [{"id": "cmos", "kind": "absolute", "low": 0.8, "mid": 1.65, "high": 2.5}],
  "clocks": [{"id": "loop", "source": "d", "method": "pll", "levels": "cmos"},
             {"id": "beside", "source": "d", "method": "forwarded", "from": "p"}],
  "eyes": [{"id": "eye", "source": "d", "clock": "loop", "region": "start_up"},
           {"id": "pulses", "source": "d", "each": "both", "trigger": "n", "levels": "cmos", "after": 1e-8},
           {"id": "repeats", "source": "d", "clock": "loop", "each": "pattern", "pattern": 127, "pattern_to": 16}],
  "masks": [{"id": "mask", "eye": "eye", "mask": "a"}, {"id": "pulse", "source": "p", "mask": "b", "edge": "both"}],
  "measurements": [{"id": "rise", "quantity": "rise_time", "source": "p", "region": "start_up", "levels": "cmos"},
                   {"id": "skew", "quantity": "delay", "source": "p", "to": "n", "limit": {"max": 1e-12}},
                   {"id": "height", "quantity": "eye_height", "eye": "eye"}],
  "programs": [{"id": "despike", "file": "despike.py", "arguments": ["signal"], "parameters": ["limit"]}],
  "spectra": [{"id": "lines", "kind": "spectrum", "source": "d", "region": "start_up"},
              {"id": "between", "kind": "transfer", "source": "p", "to": "n"},
              {"id": "of_rise", "kind": "spectrum", "row": "rise"}],
  "budgets": [{"id": "jitter", "clock": "loop", "region": "start_up", "without": [2.2e6], "limit": 0.3}],
  "phase_noise": [{"id": "noise", "source": "d", "region": "start_up", "levels": "cmos", "from": 1e4, "except": [2.2e6],
                   "limit": {"offsets": [1e4, 1e6], "levels": [-90, -120]}},
                  {"id": "of_loop", "clock": "loop"}],
  "kept_out": [{"id": "out", "of": ["rise", "skew"], "start": 1e-6, "stop": 2e-6, "reason": "relay"}],
  "notes": [{"id": "note", "channel": "d", "time": 1e-6, "text": "here"}],
  "markers": [{"id": "a", "time": 1e-6}, {"id": "b", "channel": "n", "level": 0.2}, {"id": "c", "row": "rise", "level": 1e-9}],
  "sheets": [{"id": "s", "title": "S", "tiles": [
      {"id": "legs", "kind": "traces", "of": ["p", "n"], "row": 0, "column": 0, "ranges": {"p": [0, 1], "n": [0, 2]}},
      {"id": "fold", "kind": "eye", "of": ["eye"], "row": 1, "column": 0}]}]
})JSON",
                         "d");
}

std::vector<std::string> idsOf(const Document &document)
{
    std::vector<std::string> ids;
    forEachEntry(document,
                 [&](const EntryList &list, std::size_t i, const std::string &) { ids.push_back(list.id(i)); });
    return ids;
}

/// Gives a field another value that it may have; false for those that are compared elsewhere.
bool alter(const Field &field)
{
    if (auto *text = std::get_if<std::string *>(&field.value))
        return **text = field.choices.empty() || field.choices[1].word == **text ? "f0" : field.choices[1].word, true;
    if (auto *number = std::get_if<double *>(&field.value)) return **number = 0.5 * **number + 0.25, true;
    if (auto *number = std::get_if<std::optional<double> *>(&field.value)) return **number = 0.125, true;
    if (auto *count = std::get_if<int *>(&field.value)) return **count += **count == int(field.most) ? -1 : 1, true;
    if (auto *count = std::get_if<std::optional<int> *>(&field.value)) return **count = 3, true;
    if (auto *bytes = std::get_if<std::optional<std::int64_t> *>(&field.value))
        return **bytes = 1'234'567'890'123, true;
    if (auto *is = std::get_if<bool *>(&field.value)) return **is = !**is, true;
    if (auto *is = std::get_if<std::optional<bool> *>(&field.value)) return **is = false, true;
    if (auto *place = std::get_if<NumberOrName *>(&field.value)) return **place = 7, true;
    if (auto *column = std::get_if<std::optional<std::optional<NumberOrName>> *>(&field.value))
        return **column = std::optional<NumberOrName>(), true; // none, and said so
    if (auto *names = std::get_if<std::vector<std::string> *>(&field.value)) return (*names)->push_back("x"), true;
    if (auto *numbers = std::get_if<std::vector<double> *>(&field.value)) return (*numbers)->push_back(2), true;
    if (auto *ranges = std::get_if<Ranges *>(&field.value)) return (**ranges)["x"] = {1, 2}, true;
    if (auto *reasons = std::get_if<Reasons *>(&field.value)) return (**reasons)["x"] = "y", true;
    if (auto *word = std::get_if<Word>(&field.value))
        return word->set(field.choices.empty() ? ";" : field.choices[0].word);
    return false;
}

} // namespace

TEST(Entries, EveryMemberIsDescribed)
{
    // A member more and this does not compile; a member that is not described and it does not hold.
    const auto described = [](auto entry) { return fieldsOf(entry).size(); };
    const auto counted = [](const auto &...members) { return sizeof...(members); };
    const auto [c1, c2, c3, import, c5, run, live] = CaptureEntry{};
    const auto [i1, i2, i3, i4, i5, i6, i7, i8, i9, i10, i11, i12, i13] = import;
    EXPECT_EQ(described(import), counted(i1, i2, i3, i4, i5, i6, i7, i8, i9, i10, i11, i12, i13));
    const auto [run1, run2, run3, run4] = run;
    const auto [live1, live2, live3, live4, live5] = live;
    EXPECT_EQ(described(CaptureEntry{}), counted(c1, c2, c3, c5) + described(import) +
                                             counted(run1, run2, run3, run4, live1, live2, live3, live4, live5));
    const auto [h1, h2, h3, h4, h5, h6, h7, h8, h9, h10, h11] = ChannelEntry{};
    EXPECT_EQ(described(ChannelEntry{}), counted(h1, h2, h3, h4, h5, h6, h7, h8, h9, h10, h11));
    const auto [p1, p2, p3, p4, p5, p6, p7] = ParameterEntry{};
    EXPECT_EQ(described(ParameterEntry{}), counted(p1, p2, p3, p4, p5, p6, p7));
    const auto [f1, f2, f3, f4] = FunctionEntry{};
    EXPECT_EQ(described(FunctionEntry{}), counted(f1, f2, f3, f4));
    const auto [w1, w2, w3, w4, w5, w6, w7, w8, w9] = ProgramEntry{};
    EXPECT_EQ(described(ProgramEntry{}), counted(w1, w2, w3, w4, w5, w6, w7, w8, w9));
    const auto [r1, r2, r3] = RegionEntry{};
    EXPECT_EQ(described(RegionEntry{}), counted(r1, r2, r3));
    const auto [l1, l2, l3, l4, l5, l6, l7, l8, l9, l12, l13] = LevelsEntry{};
    EXPECT_EQ(described(LevelsEntry{}), counted(l1, l2, l3, l4, l5, l6, l7, l8, l9, l12, l13));
    const auto [k1, k2, k3, k4, k5, k6, k7, k8, k9, k10, k11, k12, k13, k14, k15, k16, k17] = ClockEntry{};
    EXPECT_EQ(described(ClockEntry{}),
              counted(k1, k2, k3, k4, k5, k6, k7, k8, k9, k10, k11, k12, k13, k14, k15, k16, k17));
    const auto [e1, e2, e3, e4, e5, e6, e7, e8, e9, e10, e11, e12, e13, e14, e15, e16, e17] = EyeEntry{};
    EXPECT_EQ(described(EyeEntry{}),
              counted(e1, e2, e3, e4, e5, e6, e7, e8, e9, e10, e11, e12, e13, e14, e15, e16, e17));
    const auto [m1, m2, m3, m4, m5, m6, m7, m8, m9, m10, m11, m12] = MaskEntry{};
    EXPECT_EQ(described(MaskEntry{}), counted(m1, m2, m3, m4, m5, m6, m7, m8, m9, m10, m11, m12));
    const auto [q1, q2, q3, q4, q5, q6, q7, q8, q9, q10, q11, limit, q12, q13, q14, q15, q16, q17, q18, q19, q20, q21,
                q22, q23, q24, q25, q26, q27, q28, q29, q30, q31, q32, q33] = MeasurementEntry{};
    const auto [l10, l11] = limit;
    EXPECT_EQ(described(MeasurementEntry{}),
              counted(q1, q2, q3, q4, q5, q6, q7, q8, q9, q10, q11, q12, q13, q14, q15, q16, q17, q18, q19, q20, q21,
                      q22, q23, q24, q25, q26, q27, q28, q29, q30, q31, q32, q33, l10, l11));
    const auto [n1, n2, n3, n4, n5, n6, n7, n8] = NoteEntry{};
    EXPECT_EQ(described(NoteEntry{}), counted(n1, n2, n3, n4, n5, n6, n7, n8));
    const auto [a1, a2, a3, a4, a5] = MarkerEntry{};
    EXPECT_EQ(described(MarkerEntry{}), counted(a1, a2, a3, a4, a5));
    const auto [t1, t2, t3, t4, t5, t6, t7, t8, t9, t10, t11, t12, t13, t14, t15, t16, t17, t18, t19, t20, t21, t22,
                t23, t24, t25, t26, t27, t28, t29, t30, t31, t32, t33, t34] = TileEntry{};
    EXPECT_EQ(described(TileEntry{}),
              counted(t1, t2, t3, t4, t5, t6, t7, t8, t9, t10, t11, t12, t13, t14, t15, t16, t17, t18, t19, t20, t21,
                      t22, t23, t24, t25, t26, t27, t28, t29, t30, t31, t32, t33, t34));
    const auto [u1, u2, u3, u4, u5, u6, u7, u8, u9, u10] = SpectrumEntry{};
    EXPECT_EQ(described(SpectrumEntry{}), counted(u1, u2, u3, u4, u5, u6, u7, u8, u9, u10));
    const auto [s1, s2, s3, s4, s5] = SheetEntry{};
    EXPECT_EQ(described(SheetEntry{}), counted(s1, s2, s3, s4, s5));
    const auto [d1, device, report, d3, d4, d5, d6, d7, d8, d9, d10, d11, d12, d13, d14, d15, d16, d17, d18, d19, d20,
                d21, d22, d23, d24] = Document{};
    const auto [v1, v2, v3] = device;
    const auto [rp1, rp2, rp3, rp4, rp5, rp6] = report;
    EXPECT_EQ(described(Document{}),
              counted(d1, d3, d4, d5, d6, d7, d8, d9, d10, d11, d12, d13, d14, d15, d16, d17, d18, d19, d20, d21, d22,
                      d23, d24, v1, v2, v3, rp1, rp2, rp3, rp4, rp5, rp6));
    const auto [j1, j2, j3, j4, j5, j6, j7, j8, j9, j10] = BudgetEntry{};
    EXPECT_EQ(described(BudgetEntry{}), counted(j1, j2, j3, j4, j5, j6, j7, j8, j9, j10));
    const auto [y1, y2, y3, y4, y5, y6, y7, y8, y9, y10, y11, y12, y13] = PhaseNoiseEntry{};
    EXPECT_EQ(described(PhaseNoiseEntry{}), counted(y1, y2, y3, y4, y5, y6, y7, y8, y9, y10, y11, y12, y13));
    const auto [z1, z2] = ComparisonEntry{};
    EXPECT_EQ(described(ComparisonEntry{}), counted(z1, z2));
    const auto [x1, x2, x3, x4] = PlanEntry{};
    EXPECT_EQ(described(PlanEntry{}), counted(x1, x2, x3, x4));
    const auto [at1, at2, at3, at4, at5, at6, at7] = AttemptEntry{};
    EXPECT_EQ(described(AttemptEntry{}), counted(at1, at2, at3, at4, at5, at6, at7));
    const auto [o1, o2, o3, o4, o5] = KeptOutEntry{};
    EXPECT_EQ(described(KeptOutEntry{}), counted(o1, o2, o3, o4, o5));
}

TEST(Entries, AnotherValueOfAnyFieldIsWrittenAndCountsAsItsRoleSays)
{
    const Document before = everything();
    const std::string text = documentText(before), computed = computingText(fieldsOf(before));
    int altered = 0;
    forEachEntry(before, [&](const EntryList &entries, std::size_t i, const std::string &where) {
        const bool shows = where.starts_with("notes") || where.starts_with("comparisons") ||
                           where.starts_with("plans") || where.starts_with("attempts") ||
                           where.starts_with("markers") || where.starts_with("sheets");
        const std::size_t count = entries.fields(i).size();
        for (std::size_t k = 0; k < count; ++k) {
            Document document = before;
            const std::vector<Field> fields = fieldsOf(document, entries.id(i));
            const Field &field = fields[k];
            if (!alter(field)) continue;
            ++altered;
            EXPECT_NE(documentText(document), text) << where << "." << field.key;
            const bool counts = field.role == Role::computes && field.belongs && !shows;
            EXPECT_EQ(computingText(fieldsOf(document)) != computed, counts) << where << "." << field.key;
        }
    });
    EXPECT_GT(altered, 150);
}

TEST(Entries, VerdictsAndPicturesAreNoInputOfNumbers)
{
    const Document before = everything();
    Document limited = before, shown = before;
    limited.measurements[0].limit.max = 1e-9;
    shown.sheets[0].tiles[0].lanes = true;
    EXPECT_FALSE(sameComputation(before, limited));
    EXPECT_EQ(computingText(fieldsOf(before)), computingText(fieldsOf(limited)));
    EXPECT_TRUE(sameComputation(before, shown));
}

TEST(Entries, WhatHasNoMeaningNowIsKeptAllTheSame)
{
    Document document = everything();
    document.clocks[0].bandwidth = 3e6;
    document.clocks[0].method = "fixed";
    const Document read = parseDocument(documentText(document), "d");
    EXPECT_EQ(read.clocks[0].bandwidth, 3e6);
    EXPECT_EQ(computingText(fieldsOf(read, "loop")), computingText([] {
                  static ClockEntry plain = everything().clocks[0];
                  plain.method = "fixed";
                  return fieldsOf(plain);
              }()));
}

TEST(Entries, WhatAForwardedClockWasCalledBeforeIsRead)
{
    const Document document = everything();
    std::string text = documentText(document);
    text.replace(text.find("\"forwarded\""), 11, "\"explicit\"");
    EXPECT_EQ(parseDocument(text, "d"), document);
}

TEST(Entries, ARenamedEntryIsReferredToByItsNewName)
{
    const Document before = everything();
    for (const std::string &id : idsOf(before)) {
        Document document = before;
        const std::string fresh = renameEntry(document, id, "Another name");
        EXPECT_EQ(fresh, "another_name");
        EXPECT_NO_THROW(validate(document)) << id;
        EXPECT_NE(document, before);
        EXPECT_THAT(usersOf(document, id), ElementsAre()) << id;
        EXPECT_EQ(usersOf(document, fresh).size(), usersOf(before, id).size()) << id;
        EXPECT_EQ(renameEntry(document, fresh, id), id);
        EXPECT_EQ(document, before) << id;
    }
    Document document = before;
    renameEntry(document, "p", "left");
    EXPECT_EQ(document.channels[2].formula, "left - n * fc + 3p"); // pico is no channel
    EXPECT_EQ(document.sheets[0].tiles[0].of, (std::vector<std::string>{"left", "n"}));
    EXPECT_EQ(document.sheets[0].tiles[0].ranges.count("left"), 1u);
    EXPECT_EQ(renameEntry(document, "loop", "d"), "d2"); // taken
    EXPECT_EQ(renameEntry(document, "nobody", "x"), "nobody");
}

TEST(Entries, WhatCannotBeWithoutARemovedEntryGoesWithIt)
{
    const auto without = [](const std::string &id) {
        Document document = everything();
        removeWithDependents(document, id);
        EXPECT_NO_THROW(validate(document)) << id;
        return document;
    };
    EXPECT_THAT(idsOf(without("run")), ElementsAre("fc", "twice", "despike", "start_up", "cmos", "a", "s"));
    EXPECT_THAT(idsOf(without("loop")),
                ElementsAre("run", "p", "n", "d", "e", "fc", "twice", "despike", "start_up", "cmos", "beside", "pulses",
                            "pulse", "rise", "skew", "lines", "between", "of_rise", "noise", "out", "note", "a", "b",
                            "c", "s", "legs"));
    EXPECT_THAT(idsOf(without("fc")), testing::Not(testing::Contains("e"))); // through the formula of d
    EXPECT_THAT(idsOf(without("twice")), testing::Not(testing::Contains("e")));
    const Document unregioned = without("start_up"), unleveled = without("cmos"), single = without("n");
    EXPECT_EQ(unregioned.eyes[0].region, "");
    EXPECT_EQ(unregioned.measurements[0].region, "");
    EXPECT_EQ(unleveled.clocks[0].levels, "default");
    EXPECT_EQ(unleveled.measurements[0].levels, "default");
    EXPECT_EQ(single.sheets[0].tiles[0].of, std::vector<std::string>{"p"});
    EXPECT_EQ(single.sheets[0].tiles[0].ranges.count("n"), 0u);
    EXPECT_EQ(without("nobody"), everything());
}

TEST(Entries, ADocumentOfSomeOfThemHasWhatTheyStandOnAndNothingElse)
{
    const Document document = everything();
    const auto idsOf = [](const Document &some) {
        std::vector<std::string> ids;
        forEachEntry(some,
                     [&](const EntryList &list, std::size_t i, const std::string &) { ids.push_back(list.id(i)); });
        return ids;
    };
    const auto onlyOf = [&](std::vector<std::string> ids) { return idsOf(onlyBehind(document, ids)); };
    EXPECT_THAT(onlyOf({"p"}), ElementsAre("run", "p"));
    EXPECT_THAT(onlyOf({"e"}), ElementsAre("run", "p", "n", "d", "e", "fc", "twice"));
    EXPECT_THAT(onlyOf({"rise", "start_up"}), ElementsAre("run", "p", "start_up", "cmos", "rise"));
    EXPECT_THAT(onlyOf({"height"}),
                ElementsAre("run", "p", "n", "d", "fc", "start_up", "cmos", "loop", "eye", "height"));
    EXPECT_THAT(onlyOf({"nobody"}), ElementsAre());
    EXPECT_EQ(onlyBehind(document, std::vector<std::string>{"p"}).title, "T");
}

TEST(Entries, SettingsOfQuantitiesOfLaterVersionsAreKept)
{
    const std::string head =
        R"({"fulvex": 1, "captures": [{"id": "r", "file": "a"}], "channels": [{"id": "a", "capture": "r"}],
        "clocks": [{"id": "k", "source": "a"}], "measurements": [{"id": "m", "clock": "k", )";
    for (const char *members :
         {R"("quantity": "total_jitter", "ber": 1e-15, "pattern": 127, "data": false, "method": "tail")",
          R"("quantity": "random_jitter", "pattern": "none", "opening": 2)",
          R"("quantity": "integrated_jitter", "from": 1e4, "to": 1e6, "lines": true)",
          R"("quantity": "burst_width", "gap": 1e-6)", R"("quantity": "settling_time", "band": 5)"}) {
        const Document document = parseDocument(head + members + "}]}", "d");
        EXPECT_EQ(parseDocument(documentText(document), "d"), document) << members;
    }
    EXPECT_EQ(parseDocument(head + R"("quantity": "integrated_jitter", "to": 1e6}]})", "d").measurements[0].toFrequency,
              1e6);
    EXPECT_EQ(parseDocument(head + R"("quantity": "delay", "to": "a"}]})", "d").measurements[0].to, "a");
}

TEST(FormulaNames, AreReplacedWhereTheyAreNames)
{
    EXPECT_EQ(Formula::renamed("p - p2*max(p, 3p) / abs(-p)^p", "p", "left"),
              "left - p2*max(left, 3p) / abs(-left)^left");
    EXPECT_EQ(Formula::renamed("max(max, abs)", "max", "m"), "max(m, abs)");
    EXPECT_EQ(Formula::renamed(" a ", "b", "c"), " a ");
}
