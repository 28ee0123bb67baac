#include "job/job_file.h"

#include "job/names_internal.h"

#include <zip.h>

namespace ferro::job {

namespace {

constexpr std::size_t mostJson = std::size_t{1} << 30, mostPicture = std::size_t{1} << 30, mostEntries = 10'000;

Problem zipProblem(std::string_view what) {
    return {.what = fmt::format("The job file is damaged ({}).", what),
            .where = {},
            .mend = "Take the file from a backup."};
}

/// The library frees what it is given with free(); this hands it a view into our own bytes instead.
zip_source_t* sourceOf(zip_t* zip, std::string_view bytes) {
    return zip_source_buffer(zip, bytes.data(), bytes.size(), 0);
}

bool add(zip_t* zip, const std::string& name, std::string_view bytes, zip_int32_t method) {
    zip_source_t* source = sourceOf(zip, bytes);
    const zip_int64_t index = source ? zip_file_add(zip, name.c_str(), source, ZIP_FL_ENC_UTF_8) : -1;
    if (index < 0) return zip_source_free(source), false;
    // A fixed time keeps the same job the same bytes.
    zip_file_set_dostime(zip, static_cast<zip_uint64_t>(index), 0, 0x21, 0);
    return zip_set_file_compression(zip, static_cast<zip_uint64_t>(index), method, method == ZIP_CM_DEFLATE ? 1 : 0) ==
           0;
}

Result<std::string> entry(zip_t* zip, zip_uint64_t index, std::size_t limit) {
    zip_stat_t stat;
    if (zip_stat_index(zip, index, 0, &stat) != 0 || !(stat.valid & ZIP_STAT_SIZE)) return zipProblem("no directory");
    if (stat.size > limit) return zipProblem("an entry is absurdly large");
    const std::unique_ptr<zip_file_t, int (*)(zip_file_t*)> file(zip_fopen_index(zip, index, 0), zip_fclose);
    if (!file) return zipProblem("an entry cannot be opened");
    // Grown as it is read: a header that lies about its size takes no memory.
    std::string bytes;
    char block[1 << 16];
    for (;;) {
        const zip_int64_t count = zip_fread(file.get(), block, sizeof block);
        if (count < 0) return zipProblem("an entry is cut short");
        if (count == 0) break;
        bytes.append(block, static_cast<std::size_t>(count));
        if (bytes.size() > limit) return zipProblem("an entry is absurdly large");
    }
    return bytes;
}

} // namespace

Result<std::string> toBytes(const Job& job) {
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* target = zip_source_buffer_create(nullptr, 0, 1, &error);
    zip_source_keep(target);
    zip_t* zip = zip_open_from_source(target, ZIP_TRUNCATE, &error);
    const auto failed = [&](std::string_view what) {
        if (zip) zip_discard(zip);
        zip_source_free(target);
        return Problem{.what = fmt::format("The job could not be packed ({}).", what), .where = {}, .mend = {}};
    };
    if (!zip) return failed("no memory");
    const std::string text = jsonOf(job);
    if (!add(zip, "job.json", text, ZIP_CM_DEFLATE)) return failed("job.json");
    std::map<std::string, std::shared_ptr<const std::string>> pictures;
    for (const auto& item : job.artwork->items)
        if (const auto* leaf = artwork::pictureOf(item)) pictures[pictureName(*leaf)] = leaf->bytes;
    for (const auto& [name, bytes] : pictures)
        if (!add(zip, name, *bytes, ZIP_CM_STORE)) return failed(name);
    if (zip_close(zip) != 0) return failed(zip_strerror(zip));
    zip = nullptr;
    zip_stat_t stat;
    if (zip_source_open(target) != 0 || zip_source_stat(target, &stat) != 0) return failed("no result");
    std::string bytes(stat.size, '\0');
    const bool whole = zip_source_read(target, bytes.data(), stat.size) == static_cast<zip_int64_t>(stat.size);
    zip_source_close(target);
    if (!whole) return failed("cut short");
    zip_source_free(target);
    return bytes;
}

Result<Job> fromBytes(std::string_view bytes) {
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
    zip_t* raw = source ? zip_open_from_source(source, ZIP_RDONLY | ZIP_CHECKCONS, &error) : nullptr;
    if (!raw) {
        zip_source_free(source);
        return Problem{.what = "This is no Ferrograph job, or it is damaged.",
                       .where = {},
                       .mend = "Choose a .ferro file, or take it from a backup."};
    }
    const std::unique_ptr<zip_t, void (*)(zip_t*)> zip(raw, zip_discard);
    std::string text;
    PictureBytes pictures;
    const auto count = static_cast<zip_uint64_t>(zip_get_num_entries(raw, 0));
    if (count > mostEntries) return zipProblem("too many entries");
    std::size_t total = 0;
    for (zip_uint64_t i = 0; i < count; ++i) {
        const std::string name = zip_get_name(raw, i, 0);
        const bool isJob = name == "job.json";
        if (!isJob && !name.starts_with("pictures/")) continue; // a later version's own matter
        auto content = entry(raw, i, isJob ? mostJson : mostPicture);
        if (!content) return content.problem().within(name);
        total += content->size();
        if (total > 2 * mostPicture) return zipProblem("over 2 GB in all");
        if (isJob)
            text = std::move(*content);
        else
            pictures[name] = std::make_shared<const std::string>(std::move(*content));
    }
    if (text.empty()) return zipProblem("job.json is missing");
    return jobFromJson(text, pictures);
}

Result<void> save(Disk& disk, const Job& job, const std::filesystem::path& file) {
    auto bytes = toBytes(job);
    if (!bytes) return bytes.problem();
    return writeAtomically(disk, file, *bytes);
}

Result<Job> load(Disk& disk, const std::filesystem::path& file) {
    auto bytes = disk.read(file);
    if (!bytes) return bytes.problem();
    auto job = fromBytes(*bytes);
    if (!job) return job.problem().within(file.filename().string());
    return job;
}

} // namespace ferro::job
