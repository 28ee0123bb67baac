#include "link/queue.h"

#include "base/json_members.h"
#include "job/sheets.h"

#include <algorithm>

namespace ferro::link {

namespace {
constexpr int mostCopies = 999;
} // namespace

// The words of a queue's file.
template<class Io> void members(Io& io, Queue::Entry& entry) {
    io.need("sheet", entry.sheet.value).need("name", entry.name).need("copies", entry.copies);
    io("done", entry.done)("seconds", entry.seconds);
}
template<class Io> void members(Io& io, Queue& queue) { io.need("queue", queue.entries); }

const Queue::Entry* Queue::next() const {
    const auto at = std::find_if(entries.begin(), entries.end(), [](const Entry& e) { return e.done < e.copies; });
    return at == entries.end() ? nullptr : &*at;
}

int Queue::left() const {
    int sum = 0;
    for (const auto& entry : entries) sum += std::max(0, entry.copies - entry.done);
    return sum;
}

int Queue::done() const {
    int sum = 0;
    for (const auto& entry : entries) sum += entry.done;
    return sum;
}

std::optional<double> Queue::secondsLeft() const {
    double sum = 0;
    for (const auto& entry : entries) {
        if (entry.done >= entry.copies) continue;
        if (entry.seconds <= 0) return std::nullopt;
        sum += (entry.copies - entry.done) * entry.seconds;
    }
    return sum;
}

Queue queueFor(const job::Job& job, const Queue& before) {
    Queue queue;
    for (const auto& one : job::sheetsToCut(job)) {
        const auto& sheet = one.sheet();
        Queue::Entry entry{.sheet = sheet.id, .name = sheet.name};
        for (const auto& was : before.entries)
            if (was.sheet == sheet.id) entry.copies = was.copies, entry.done = was.done, entry.seconds = was.seconds;
        queue.entries.push_back(std::move(entry));
    }
    return queue;
}

Queue withDone(Queue queue, job::SheetId sheet, double seconds) {
    for (auto& entry : queue.entries)
        if (entry.sheet == sheet) {
            ++entry.done;
            if (seconds > 0) entry.seconds = seconds;
        }
    return queue;
}

Result<Queue> withCopies(Queue queue, job::SheetId sheet, int copies) {
    if (copies < 0 || copies > mostCopies)
        return Problem{.what = fmt::format("{} copies of a sheet cannot be run.", copies),
                       .where = {},
                       .mend = fmt::format("Say 0 to {}.", mostCopies)};
    for (auto& entry : queue.entries)
        if (entry.sheet == sheet) entry.copies = copies;
    return queue;
}

std::filesystem::path queueFile(const std::filesystem::path& log) { return log.string() + ".queue"; }

Result<Queue> keptQueue(Disk& disk, const std::filesystem::path& file) {
    std::error_code none;
    if (!std::filesystem::exists(file, none)) return Queue{};
    const auto text = disk.read(file, 1 << 20);
    if (!text) return text.problem();
    return json_members::readJson<Result<Queue>>(
        *text, "Take the file away: the queue begins anew.", [](const json_members::json& all) -> Result<Queue> {
            Queue queue;
            json_members::read(all, queue);
            for (auto& entry : queue.entries)
                if (entry.copies < 0 || entry.copies > mostCopies || entry.done < 0 || entry.done > 1'000'000 ||
                    !(entry.seconds >= 0 && entry.seconds < 1e8))
                    throw json_members::Fault{"a count is beyond its range", {"queue"}};
            return queue;
        });
}

Result<void> keepQueue(Disk& disk, const std::filesystem::path& file, const Queue& queue) {
    return writeAtomically(disk, file, json_members::written(queue).dump(2) + "\n");
}

} // namespace ferro::link
