#include "app/shell/program_proof.h"

#include "app/shell/surface.h"
#include "app/theme/theme.h"
#include "app/widgets/parts.h"

#include <QFileInfo>

namespace ferro::app {

ProgramProof::ProgramProof(Session& session, const QString& file, QWidget* parent)
    : QDialog(parent), session_(session), file_(file) {
    setObjectName("programProof");
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Proof of %1").arg(QFileInfo(file).fileName()));
    resize(760, 560);
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(16, 12, 16, 12);
    rows->setSpacing(8);
    verdict_ = wrappedLabel(tr("reading…"));
    verdict_->setObjectName("programVerdict");
    verdict_->setProperty("title", true);
    facts_ = captionLabel();
    facts_->setObjectName("programFacts");
    list_ = new QVBoxLayout;
    list_->setSpacing(6);
    picture_ = new QLabel;
    picture_->setObjectName("programSurface");
    picture_->setAccessibleName(tr("The stock after the program"));
    picture_->setAlignment(Qt::AlignCenter);
    picture_->setMinimumSize(200, 160);
    rows->addWidget(verdict_);
    rows->addWidget(facts_);
    rows->addLayout(list_);
    rows->addWidget(picture_, 1);
    connect(&session_, &Session::jobChanged, this, &ProgramProof::start);
    connect(&theme(), &Theme::changed, this, &ProgramProof::start);
    start();
}

bool ProgramProof::takes(const QString& file) {
    static const QStringList endings{"nc", "ngc", "gcode", "tap", "cnc"};
    return endings.contains(QFileInfo(file).suffix().toLower());
}

ProgramProof::Answer ProgramProof::proofed(const job::Job& job, const program::Dialect& dialect,
                                           const std::string& text, const QColor& through, Progress& progress) {
    Answer answer;
    auto read = program::readProgram(text, program::readOptionsFor(job, dialect));
    if (!read) return answer.problem = read.problem(), answer;
    answer.notices = read->notices;
    answer.lines = read->lines;
    answer.moves = read->path.count();
    auto proof = proof::proofOfMoves(job, read->path, read->lineOf, progress);
    if (!proof) return answer.problem = proof.problem(), answer;
    answer.seconds = proof->timing.motion;
    answer.go = proof->mayRun();
    answer.findings = std::move(proof->findings);
    answer.surface = surfaceImage(job, read->path, proof::strokesOf(read->path, job.sheet().stock.thickness, 0.02),
                                  through, progress);
    return answer;
}

void ProgramProof::start() {
    const auto dialect = session_.writer().dialect();
    const auto text = realDisk().read(file_.toStdString());
    if (!dialect || !text) {
        Answer failed;
        failed.problem = !text ? text.problem() : dialect.problem();
        return show_(failed);
    }
    session_.background().run(
        "program", tr("Proofing %1").arg(QFileInfo(file_).fileName()),
        [job = session_.job(), dialect = *dialect, text = *text, through = theme().color(Token::bench)](
            Progress& progress) { return proofed(job, dialect, text, through, progress); },
        this, [this](const Answer& answer) { show_(answer); });
}

void ProgramProof::show_(const Answer& answer) {
    while (auto* item = list_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    surface_ = answer.surface;
    paintSurface();
    if (answer.problem) {
        verdict_->setText(QString::fromStdString(answer.problem->text()));
        facts_->clear();
        return;
    }
    verdict_->setText(answer.go ? tr("Go, on this job's stock.") : tr("No-go."));
    facts_->setText(tr("%1 lines · %2 moves · %3 of motion")
                        .arg(answer.lines)
                        .arg(answer.moves)
                        .arg(QString::fromStdString(shownTime(answer.seconds))));
    for (const auto& f : answer.findings)
        list_->addWidget(wrappedLabel(QString::fromStdString(f.mend.empty() ? f.what : f.what + " " + f.mend)));
    for (const auto& n : answer.notices) list_->addWidget(captionLabel(QString::fromStdString(n.text)));
}

void ProgramProof::paintSurface() {
    picture_->setPixmap(surface_.isNull() ? QPixmap()
                                          : QPixmap::fromImage(surface_.scaled(picture_->size(), Qt::KeepAspectRatio,
                                                                               Qt::SmoothTransformation)));
}

void ProgramProof::resizeEvent(QResizeEvent* event) {
    QDialog::resizeEvent(event);
    paintSurface();
}

} // namespace ferro::app
