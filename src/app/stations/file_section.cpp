#include "app/stations/file_section.h"

#include "app/shell/dialect_dialog.h"
#include "app/shell/program_writer.h"
#include "job/sheets.h"

#include <QFileDialog>

namespace ferro::app {

FileSection::FileSection(Session& session) : Section(tr("File")), session_(session) {
    dialect_ = new QComboBox;
    dialect_->setObjectName("dialect");
    dialect_->setFixedWidth(150);
    dialect_->addItem(tr("the machine's own"), QString());
    add(row(tr("Dialect"), dialect_));
    auto* edit = plainButton(tr("Change the dialect…"), "editDialect");
    add(edit);
    connect(edit, &QPushButton::clicked, this, &FileSection::editDialect);
    each_ = new WordChoice({}, {tr("job"), tr("tool"), tr("step")});
    each_->setObjectName("outputEach");
    add(row(tr("A file for each"), each_));
    fileName_ = new QLineEdit;
    fileName_->setObjectName("outputName");
    fileName_->setAccessibleName(tr("Name of the files"));
    fileName_->setFixedWidth(150);
    fileName_->setPlaceholderText(tr("as is usual"));
    fileName_->setToolTip(tr("{job}, {sheet}, {number}, {tool} and {step} are filled in"));
    add(row(tr("Called"), fileName_));
    files_ = captionLabel();
    files_->setObjectName("outputFiles");
    files_->setWordWrap(true);
    add(files_);
    write_ = plainButton(tr("Write the program…"), "writeProgram");
    writeAll_ = plainButton(tr("Write all sheets…"), "writeAllSheets");
    add(buttonRow({write_, writeAll_}));
    text_ = new QPlainTextEdit;
    text_->setObjectName("programText");
    text_->setAccessibleName(tr("Program"));
    text_->setReadOnly(true);
    text_->setProperty("code", true); // its face is the style sheet's
    text_->setFixedHeight(110);
    text_->setLineWrapMode(QPlainTextEdit::NoWrap);
    add(text_);
    connect(dialect_, &QComboBox::activated, this, [this](int index) {
        session_.apply(tr("Dialect"),
                       job::withDialect(session_.job(), dialect_->itemData(index).toString().toStdString()));
    });
    for (auto* button : {write_, writeAll_})
        connect(button, &QPushButton::clicked, this, [this, all = button == writeAll_] {
            const QString folder = QFileDialog::getExistingDirectory(this, tr("Write the program into"));
            if (!folder.isEmpty()) writeTo(folder, all);
        });
    const auto output = [this](const job::Output& wished) {
        session_.apply(tr("Files of the program"), job::withOutput(session_.job(), wished));
        refresh();
    };
    connect(each_, &WordChoice::asked, this, [this, output](int index) {
        output({static_cast<job::FileOf>(index), session_.job().output.name});
    });
    connect(fileName_, &QLineEdit::editingFinished, this, [this, output] {
        const auto name = fileName_->text().trimmed().toStdString();
        if (name != session_.job().output.name) output({session_.job().output.each, name});
    });
}

void FileSection::writeTo(const QString& folder, bool allSheets) {
    session_.background().run(
        "program file", tr("Writing the program"),
        [jobs = allSheets ? job::sheetsToCut(session_.job()) : std::vector<job::Job>{session_.job()},
         known = session_.prover().isFresh() ? session_.prover().proof() : nullptr,
         folder = std::filesystem::path(folder.toStdString()), allSheets](Progress& progress) -> Result<QStringList> {
            if (jobs.empty())
                return Problem{.what = "Nothing lies on any sheet.", .where = {}, .mend = "Lay pieces on a sheet."};
            const auto dialect = program::dialectOf(realDisk(), jobs.front());
            if (!dialect) return dialect.problem();
            std::map<std::string, std::string> texts;
            for (std::size_t i = 0; i < jobs.size(); ++i) { // all of them, or none
                progress.stage(static_cast<double>(i) / static_cast<double>(jobs.size()),
                               static_cast<double>(i + 1) / static_cast<double>(jobs.size()));
                auto proof = allSheets || !known ? proof::proofOf(jobs[i], progress) : Result<proof::Proof>(*known);
                if (!proof) return proof.problem();
                auto files = program::programFilesFor(jobs[i], proof->path, *dialect,
                                                      proof->mayRun() ? program::Clearance::passed
                                                                      : program::Clearance::refused);
                if (!files) return allSheets ? files.problem().within(jobs[i].sheet().name) : files.problem();
                for (auto& file : *files)
                    if (!texts.emplace(file.name, std::move(file.program.text)).second)
                        return Problem{.what = fmt::format("Two sheets would be written to {}.", file.name),
                                       .where = {},
                                       .mend = "Put {sheet} into the name of the files."};
            }
            QStringList done;
            for (const auto& [name, text] : texts) {
                if (auto written = writeAtomically(realDisk(), folder / name, text); !written) return written.problem();
                done << QString::fromStdString((folder / name).string());
            }
            return done;
        },
        this,
        [this](const Result<QStringList>& done) {
            if (!done) return void(Q_EMIT told(QString::fromStdString(done.problem().text()), true));
            Q_EMIT told(done->size() == 1
                            ? tr("Wrote %1").arg(done->front())
                            : tr("Wrote %n files: %1", {}, static_cast<int>(done->size())).arg(done->join(tr(", "))),
                        false);
        });
}

void FileSection::editDialect() {
    const auto dialect = session_.writer().dialect();
    if (!dialect) return void(Q_EMIT told(QString::fromStdString(dialect.problem().text()), true));
    auto* dialog = new DialectDialog(*dialect, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QDialog::accepted, this, [this, dialog, was = dialect->key] {
        const auto key = dialog->dialect().key;
        if (key != was && program::isOwnDialect(key))
            session_.apply(tr("Dialect"), job::withDialect(session_.job(), key));
        session_.prover().again(); // what is written may be another
        refresh();
    });
    dialog->open();
}

/// Under which names it would be written.
void FileSection::showOutput() {
    const auto& output = session_.job().output;
    each_->setChosen(static_cast<int>(output.each));
    if (!fileName_->hasFocus()) fileName_->setText(QString::fromStdString(output.name));
    writeAll_->setVisible(session_.job().sheets.size() > 1);
    const auto proof = session_.prover().proof();
    files_->setVisible(proof && !proof->path.steps.empty());
    if (!files_->isVisibleTo(this)) return;
    const auto names = program::fileNamesFor(session_.job(), proof->path);
    QStringList shown;
    for (std::size_t i = 0; i < std::min<std::size_t>(names.size(), 6); ++i) shown << QString::fromStdString(names[i]);
    if (names.size() > 6) shown << tr("and %1 more").arg(names.size() - 6);
    files_->setText(shown.join('\n'));
}

void FileSection::showProgram() {
    if (session_.runner().active() || programRevision_ == session_.history().revision()) return;
    if (session_.background().busy("write")) return text_->setPlainText(tr("Being written …"));
    const auto program = session_.writer().program();
    if (!program) {
        text_->setPlainText(QString::fromStdString(program.problem().text()));
        return;
    }
    programRevision_ = session_.history().revision();
    constexpr std::size_t most = 400'000; // letters: nobody reads on
    const auto& text = program->text;
    text_->setPlainText(text.size() <= most ? QString::fromStdString(text)
                                            : QString::fromStdString(text.substr(0, most)) +
                                                  tr("\n… %1 lines in all").arg(program->lines));
}

void FileSection::refresh() {
    showProgram();
    if (const auto known = program::knownDialects(); dialect_->count() != static_cast<int>(known.size()) + 1) {
        dialect_->clear();
        dialect_->addItem(tr("the machine's own"), QString());
        for (const auto& name : known) dialect_->addItem(QString::fromStdString(name), QString::fromStdString(name));
    }
    showOutput();
    dialect_->setCurrentIndex(std::max(0, dialect_->findData(QString::fromStdString(session_.job().dialect))));
    write_->setEnabled(session_.prover().isFresh() && session_.prover().proof()->mayRun());
    writeAll_->setEnabled(session_.prover().isFresh());
}

} // namespace ferro::app
