// The queue of a job's sheets: what comes next, kept over edits, and damaged files.
#include "job/sheets.h"
#include "link/queue.h"
#include "support/jobs.h"
#include "support/own_home.h"

#include <filesystem>

using namespace ferro;
using namespace ferro::test;

namespace {

job::Job threeSheets() {
    auto job = drawn(fresh(), {{rectangle({60, 60}, {100, 90}), {}}});
    for (int i = 0; i < 2; ++i) {
        job = with(job, job::withSheetAdded(job));
        job = drawn(job, {{rectangle({60, 60}, {100, 90}), {}}});
    }
    return job;
}

} // namespace

TEST_CASE("queue: sheet after sheet, so many times each, and what is left of it") {
    const auto job = threeSheets();
    auto queue = link::queueFor(job);
    REQUIRE(queue.entries.size() == 3);
    queue = *link::withCopies(queue, job.sheets[1].id, 2);
    std::vector<std::string> order;
    while (const auto* next = queue.next()) {
        order.push_back(next->name);
        CHECK(queue.left() == 4 - queue.done());
        CHECK_FALSE(queue.secondsLeft()); // the last sheet was never run
        queue = link::withDone(queue, next->sheet, 60);
    }
    CHECK(order == std::vector<std::string>{"Sheet 1", "Sheet 2", "Sheet 2", "Sheet 3"});
    CHECK(queue.left() == 0);
    CHECK_FALSE(link::withCopies(queue, job.sheets[0].id, 1000));
    CHECK_FALSE(link::withCopies(queue, job.sheets[0].id, -1));
    CHECK_FALSE(link::withCopies(queue, job.sheets[0].id, 0)->next());
    // More of one again: it is next, and how long that takes is known.
    queue = *link::withCopies(queue, job.sheets[0].id, 3);
    CHECK(queue.next()->name == "Sheet 1");
    CHECK(*queue.secondsLeft() == 120);
}

TEST_CASE("queue: counts stay with their sheets when the job changes, and survive on disk") {
    auto job = threeSheets();
    auto queue = link::withDone(link::queueFor(job), job.sheets[1].id, 33);
    job = with(job, job::withSheetMoved(job, job.sheets[1].id, 0));
    job = with(job, job::withSheetNamed(job, job.sheets[0].id, "Wings"));
    auto now = link::queueFor(job, queue);
    CHECK(now.entries[0].name == "Wings");
    CHECK(now.entries[0].done == 1);
    CHECK(now.next()->name == "Sheet 1");
    const auto file = std::filesystem::path(std::getenv("HOME")) / "job.runlog.queue";
    CHECK(link::queueFile(file.parent_path() / "job.runlog") == file);
    CHECK(link::keptQueue(realDisk(), file)->entries.empty());
    REQUIRE(link::keepQueue(realDisk(), file, now));
    CHECK(*link::keptQueue(realDisk(), file) == now);
    for (const char* bad :
         {"", "[]", "{\"queue\": 3}", "{\"queue\": [{\"sheet\": 1, \"name\": \"a\", \"copies\": -1}]}",
          "{\"queue\": [{\"sheet\": 1, \"name\": \"a\"}]}",
          "{\"queue\": [{\"sheet\": 1, \"name\": \"a\", \"copies\": 1, \"seconds\": 1e300}]}"}) {
        REQUIRE(writeAtomically(realDisk(), file, bad));
        CAPTURE(bad);
        CHECK_FALSE(link::keptQueue(realDisk(), file));
    }
    std::filesystem::remove(file);
    now = link::queueFor(with(job, job::withoutSheet(job, job.sheets[0].id)), now);
    CHECK(now.entries.size() == 2);
}
