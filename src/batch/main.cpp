// fulvex-batch: the engine without a display. See docs/guide.md.

#include "check_command.h"
#include "compare_command.h"
#include "evidence_command.h"
#include "failure_text.h"
#include "freed_memory.h"
#include "fulvex_version.h"
#include "info_command.h"
#include "merge_command.h"
#include "plain_text.h"
#include "plan_command.h"
#include "program_command.h"
#include "program_log.h"
#include "progress.h"
#include "run_command.h"
#include "watch_command.h"
#include "write_command.h"

#include <CLI/CLI.hpp>
#include <QApplication>
#include <cstdio>
#include <cstdlib>

/// An option that may be given again and again, with one value each time.
static void addList(CLI::App &command, const char *option, std::vector<std::string> &values, const char *form,
                    const char *words)
{
    command.add_option(option, values, words)->take_all()->allow_extra_args(false)->type_name(form);
}

int main(int argc, char **argv)
{
    fulvex::keepFreedMemory();
    CLI::App app{"Evaluates Fulvex projects and describes captures, without a display.", "fulvex-batch"};
    app.set_version_flag("--version", std::string("fulvex-batch ") + fulvex::fulvexVersion);
    app.require_subcommand(1);
    app.get_formatter()->label("REQUIRED", ""); // the usage says it
    app.get_formatter()->label("TEXT", "");     // nor of what kind words are
    fulvex::RunCommand command;
    app.add_flag("-q,--quiet", command.quiet, "print errors only");
    app.add_flag("-v,--verbose", command.verbose, "say on stderr what is done");
    std::string level = "warning";
    app.add_option("--log-level", level,
                   "what is written to the log in the state folder: off, error, warning, info or debug")
        ->type_name("LEVEL")
        ->check(CLI::IsMember({"off", "error", "warning", "info", "debug"}));
    auto *run = app.add_subcommand("run", "evaluate a project");
    run->add_option("PROJECT", command.project, "project document (NAME.fulvex)")->required();
    addList(*run, "--capture", command.captures, "ID=FILE",
            "another file in a capture's place; several for one id are accumulated in order");
    addList(*run, "--set", command.parameters, "NAME=VALUE", "another value of a parameter");
    run->add_option(
           "--out", command.out,
           "folder for results.json, measurements.csv, report.html, report.pdf; without it the table is printed")
        ->type_name("FOLDER");
    run->add_option("--populations", command.populations,
                    "folder for each row's population, ID.npy: time in s and value of each occurrence; of several "
                    "captures in folders 1, 2, … in it")
        ->type_name("FOLDER");
    run->add_option("--partial", command.part, "file for what the captures gave, to be merged with that of others")
        ->type_name("FILE");
    run->add_option("--junit", command.junit, "file for the verdicts as JUnit XML")->type_name("FILE");
    run->add_option("--jobs", command.jobs, "captures that are computed at a time (1)")
        ->type_name("COUNT")
        ->check(CLI::Range(1, 256));
    run->fallthrough();
    fulvex::MergeCommand parts;
    auto *merge = app.add_subcommand("merge", "add up what run --partial wrote, in any order");
    merge->add_option("PROJECT", parts.project, "project document (NAME.fulvex)")->required();
    merge->add_option("PART", parts.parts, "files of run --partial")->required();
    merge->add_option("--out", parts.out, "folder for the report, as of run; without it the table is printed")
        ->type_name("FOLDER");
    merge->add_option("--partial", parts.part, "file for the sum, to be merged again")->type_name("FILE");
    merge->add_option("--junit", parts.junit, "file for the verdicts as JUnit XML")->type_name("FILE");
    merge->add_flag("--repeated", parts.repeated, "count a capture that several parts hold as often as they do");
    merge->fallthrough();
    fulvex::WatchCommand folder;
    auto *watch = app.add_subcommand("watch", "count captures as they come into folders");
    watch->add_option("PROJECT", folder.project, "project document (NAME.fulvex)")->required();
    addList(*watch, "--capture", folder.captures, "ID=FOLDER", "captures that come there; or a pattern of files");
    addList(*watch, "--set", folder.parameters, "NAME=VALUE", "another value of a parameter");
    watch
        ->add_option("--out", folder.out, "folder for the report, written anew after each capture, and what is counted")
        ->type_name("FOLDER")
        ->required();
    watch->add_option("--junit", folder.junit, "file for the verdicts as JUnit XML")->type_name("FILE");
    watch
        ->add_option("--idle", folder.idle,
                     "seconds without a new capture that end it; without it SIGINT or SIGTERM does")
        ->type_name("SECONDS")
        ->check(CLI::PositiveNumber);
    watch->add_option("--stop-at", folder.stopAt, "failed captures that end it")
        ->type_name("COUNT")
        ->check(CLI::Range(1, 100000));
    watch->fallthrough();
    fulvex::WriteCommand channel;
    auto *write = app.add_subcommand("write", "write a channel's samples to a file");
    write->add_option("PROJECT", channel.project, "project document (NAME.fulvex)")->required();
    write->add_option("--channel", channel.channel, "id of the channel")->type_name("ID")->required();
    write->add_option("--region", channel.region, "id of a region: only what lies in it")->type_name("ID");
    write->add_option("--to", channel.to, "the file: .npy (64-bit floats) or .csv (time in s, value)")
        ->type_name("FILE")
        ->required();
    write->fallthrough();
    fulvex::CompareCommand pair;
    auto *compare = app.add_subcommand("compare", "lay two results side by side, what is set differently first");
    compare
        ->add_option("A", pair.first,
                     "a project, a report, a results.json, or a capture to be measured as B measures its own")
        ->required();
    compare->add_option("B", pair.second, "another one, or a capture to be measured as A")->required();
    compare->add_option("--out", pair.out, "folder for comparison.json; without it the tables are printed")
        ->type_name("FOLDER");
    compare->fallthrough();
    fulvex::PlanCommand acceptance;
    auto *plan = app.add_subcommand("plan", "work a test plan down: check each step's captures, measure, judge");
    plan->add_option("PLAN", acceptance.plan, "test plan (NAME.fulvexplan)")->required();
    addList(*plan, "--capture", acceptance.captures, "NAME=FILE", "a file for a capture that the plan wants");
    addList(*plan, "--skip", acceptance.skipped, "STEP=REASON", "a step that is not done");
    addList(*plan, "--without", acceptance.without, "STEP.TEST", "a test that is not run");
    plan->add_option("--out", acceptance.out, "folder for plan.json; without it a table is printed")
        ->type_name("FOLDER");
    plan->add_option("--junit", acceptance.junit, "file for the verdicts as JUnit XML")->type_name("FILE");
    plan->fallthrough();
    fulvex::CheckCommand held;
    auto *check = app.add_subcommand("check", "recompute a report from its captures, and say whether it holds");
    check->add_option("REPORT", held.report, "report.pdf, report.html or results.json")->required();
    check->add_option("--captures", held.captures, "folder to look for the captures in, and below it")
        ->type_name("FOLDER");
    check->fallthrough();
    auto *info = app.add_subcommand("info", "say what files hold");
    std::vector<std::string> files;
    bool json = false;
    info->add_option("FILE", files, "captures")->required();
    info->add_flag("--json", json, "as JSON");
    info->fallthrough();
    fulvex::ProgramCommand its;
    auto *program = app.add_subcommand("program", "show a program that a project runs, and allow it");
    program->add_option("PROJECT", its.project, "project document (NAME.fulvex)")->required();
    program->add_option("ID", its.id, "of the program in the project")->required();
    auto *allow = program->add_flag("--allow", its.allow, "this content may run here from now on, in any project");
    program->add_flag("--forbid", its.forbid, "it may not any more")->excludes(allow);
    program->fallthrough();
    fulvex::EvidenceCommand question;
    auto *evidence = app.add_subcommand("evidence", "tell the moments behind a number, worst first");
    evidence->add_option("PROJECT", question.project, "project document (NAME.fulvex)")->required();
    evidence->add_option("ID", question.id, "of a measurement, a mask, an eye, a spectrum or a capture")->required();
    evidence->add_option("--times", question.times, "in s, only what lies there")->type_name("FROM:TO");
    evidence->add_option("--values", question.values, "only such values; with an eye, those of a box in it")
        ->type_name("FROM:TO");
    evidence->add_option("--phases", question.phases, "in unit intervals, of a box in an eye")->type_name("FROM:TO");
    evidence->add_option("--frequencies", question.frequencies, "in Hz, of a band of a spectrum")->type_name("FROM:TO");
    evidence->add_option("--most", question.most, "how many are told (20)")
        ->type_name("COUNT")
        ->check(CLI::Range(1, 1000000));
    evidence->add_flag("--json", question.json, "as JSON");
    evidence->fallthrough();
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError &error) {
        if (error.get_exit_code() == 0) return app.exit(error); // --help, --version
        std::fprintf(stderr, "fulvex-batch: %s; see fulvex-batch --help\n", fulvex::shownText(error.what()).c_str());
        return 2;
    }
    fulvex::startLog("fulvex-batch", *fulvex::logLevelOf(level));
    fulvex::logLine(fulvex::LogLevel::info, std::string("version ") + fulvex::fulvexVersion);
    try {
        if (*info) return fulvex::info(files, json);
        channel.quiet = command.quiet;
        if (*write) return fulvex::write(channel);
        if (*evidence) return fulvex::evidence(question);
        if (*program) return fulvex::program(its);
        held.quiet = acceptance.quiet = pair.quiet = parts.quiet = folder.quiet = command.quiet;
        if (*compare) return fulvex::compare(pair);
        if (*check) return fulvex::check(held);
        const auto work = [&] {
            return *merge   ? fulvex::merge(parts)
                   : *watch ? fulvex::watch(folder)
                   : *plan  ? fulvex::plan(acceptance)
                            : fulvex::run(command);
        };
        if ((*merge ? parts.out : *watch ? folder.out : *plan ? acceptance.out : command.out).empty()) return work();
        if (!std::getenv("QT_QPA_PLATFORM")) setenv("QT_QPA_PLATFORM", "offscreen", 1);
        qInstallMessageHandler(
            [](QtMsgType, const QMessageLogContext &, const QString &) {}); // stderr is for our one line
        QApplication painting(argc, argv);                                  // fonts and pictures for the reports
        return work();
    } catch (const fulvex::Cancelled &) {
        return 2;
    } catch (...) {
        fulvex::logLine(fulvex::LogLevel::error, fulvex::failureForLog());
        std::fprintf(stderr, "%s\n", fulvex::failureText().c_str());
        return 2;
    }
}
