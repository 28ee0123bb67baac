#include "app/shell/piece_clipboard.h"

#include "artwork/excerpt.h"
#include "formats/hairlines.h"
#include "job/job_file.h"

namespace ferro::app {

namespace {
const QString ours = QStringLiteral("application/x-ferrograph-pieces"), svg = QStringLiteral("image/svg+xml");

QByteArray bytesOf(const std::string& text) { return {text.data(), static_cast<qsizetype>(text.size())}; }
} // namespace

Result<std::unique_ptr<QMimeData>> clippingOf(const job::Job& job, const artwork::Ids& items) {
    auto excerpt = artwork::excerptOf(*job.artwork, items);
    const auto outlines = formats::hairlinesOf(excerpt);
    job::Job carried = job;
    carried.plan = {};
    carried.artwork = std::make_shared<const artwork::Artwork>(std::move(excerpt));
    const auto bytes = job::toBytes(carried);
    if (!bytes) return bytes.problem();
    auto data = std::make_unique<QMimeData>();
    data->setData(ours, bytesOf(*bytes));
    if (outlines && !outlines->empty())
        data->setData(svg, bytesOf(formats::svgOf(*outlines, artwork::boundsOf(*carried.artwork, items))));
    return data;
}

std::optional<Result<artwork::Artwork>> piecesIn(const QMimeData& data) {
    if (!data.hasFormat(ours)) return {};
    const auto bytes = data.data(ours);
    const auto job = job::fromBytes({bytes.constData(), static_cast<std::size_t>(bytes.size())});
    if (!job) return job.problem();
    return *job->artwork;
}

QByteArray svgIn(const QMimeData& data) {
    if (data.hasFormat(svg)) return data.data(svg);
    const auto text = data.hasText() ? data.text().trimmed() : QString();
    const bool drawn = (text.startsWith("<svg") || text.startsWith("<?xml")) && text.contains("<svg");
    return drawn ? text.toUtf8() : QByteArray();
}

} // namespace ferro::app
