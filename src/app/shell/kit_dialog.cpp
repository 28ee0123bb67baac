#include "app/shell/kit_dialog.h"

#include "app/theme/theme.h"
#include "base/quantity.h"

#include <QFileDialog>
#include <QFileInfo>

namespace ferro::app {

namespace {
constexpr const char* lane = "kit";
constexpr const char* unitWords[] = {"", "mm", "inch", "cm"};
constexpr double efforts[] = {4, 20, 100};
} // namespace

KitDialog::KitDialog(kit::Wish wish, Background& background, QWidget* parent)
    : QDialog(parent), wish_(std::move(wish)), background_(background) {
    setObjectName("kitDialog");
    setWindowTitle(tr("Kit to programs"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 16);
    column->setSpacing(8);
    const auto& bench = wish_.bench;
    column->addWidget(captionLabel(
        tr("All drawings of a cut list, laid out, proofed and written: on “%1”, sheets as in "
           "this job (%2 × %3 × %4 mm), %5.")
            .arg(QString::fromStdString(bench.machine.name))
            .arg(bench.sheet().stock.width)
            .arg(bench.sheet().stock.height)
            .arg(bench.sheet().stock.thickness)
            .arg(bench.plan.steps.empty() ? tr("steps by the house rules")
                                          : tr("its %n steps", nullptr, static_cast<int>(bench.plan.steps.size())))));
    const auto place = [&](const QString& label, const char* name, auto&& ask) {
        auto* button = plainButton(tr("Choose…"), name);
        column->addLayout(row(label, button));
        connect(button, &QPushButton::clicked, this, ask);
        return button;
    };
    listButton_ = place(tr("Cut list"), "kitList", [this] {
        const QString file = QFileDialog::getOpenFileName(this, tr("Cut list"), {}, tr("Cut lists (*.csv)"));
        if (!file.isEmpty()) setList(file);
    });
    folderButton_ = place(tr("Into the folder"), "kitFolder", [this] {
        const QString folder = QFileDialog::getExistingDirectory(this, tr("Into the folder"), folder_);
        if (!folder.isEmpty()) setFolder(folder);
    });
    unit_ = new WordChoice(tr("Drawings that tell no unit"), {tr("ask"), tr("mm"), tr("inch"), tr("cm")});
    unit_->setObjectName("kitUnit");
    unit_->setToolTip(tr("Ask: a drawing that does not tell its unit stops the kit with its name"));
    column->addWidget(unit_);
    effort_ = new WordChoice(tr("Laid out"), {tr("quickly"), tr("well"), tr("as well as can be")});
    effort_->setObjectName("kitEffort");
    column->addWidget(effort_);
    unit_->setChosen(0);
    effort_->setChosen(1);
    connect(unit_, &WordChoice::asked, unit_, &WordChoice::setChosen);
    connect(effort_, &WordChoice::asked, effort_, &WordChoice::setChosen);
    found_ = new QListWidget;
    found_->setObjectName("kitFound");
    found_->setAccessibleName(tr("What to look at"));
    found_->setWordWrap(true);
    found_->setSelectionMode(QAbstractItemView::NoSelection);
    found_->setMinimumSize(560, 190);
    column->addWidget(found_, 1);
    bar_ = new QProgressBar;
    bar_->setRange(0, 1000);
    column->addWidget(bar_);
    words_ = wrappedLabel();
    words_->setObjectName("kitWords");
    words_->setMinimumHeight(40);
    column->addWidget(words_);
    open_ = plainButton(tr("Open the kit"), "kitOpen");
    make_ = primaryButton(tr("Make the kit"), "kitMake");
    leave_ = plainButton(tr("Close"), "kitLeave");
    column->addLayout(buttonRow({leave_, open_, make_}));
    connect(make_, &QPushButton::clicked, this, [this] { isBusy() ? background_.cancel(lane) : start(); });
    connect(&background_, &Background::changed, this, &KitDialog::look);
    connect(open_, &QPushButton::clicked, this, [this] {
        opened_ = written_.value(0);
        accept();
    });
    connect(leave_, &QPushButton::clicked, this, &QDialog::reject);
    tick_.setInterval(100);
    connect(&tick_, &QTimer::timeout, this,
            [this] { bar_->setValue(static_cast<int>(1000 * background_.fraction())); });
    look();
}

KitDialog::~KitDialog() {
    disconnect(&background_, nullptr, this, nullptr);
    background_.cancel(lane);
}

bool KitDialog::isBusy() const { return background_.busy(lane); }

void KitDialog::setList(const QString& file) {
    list_ = file;
    if (folder_.isEmpty()) folder_ = QFileInfo(file).absolutePath() + "/" + QFileInfo(file).completeBaseName();
    look();
}

void KitDialog::setFolder(const QString& folder) {
    folder_ = folder;
    look();
}

void KitDialog::say(const QString& text, bool isProblem) {
    words_->setText(text);
    words_->setStyleSheet(isProblem ? QStringLiteral("color: %1").arg(theme().color(Token::noGo).name()) : QString());
}

void KitDialog::look() {
    const bool busy = isBusy();
    listButton_->setText(list_.isEmpty() ? tr("Choose…") : QFileInfo(list_).fileName());
    listButton_->setToolTip(list_);
    folderButton_->setText(folder_.isEmpty() ? tr("Choose…") : QFileInfo(folder_).fileName());
    folderButton_->setToolTip(folder_);
    for (auto* widget : std::initializer_list<QWidget*>{listButton_, folderButton_, unit_, effort_, leave_})
        widget->setEnabled(!busy);
    make_->setText(busy ? tr("Stop") : tr("Make the kit"));
    make_->setEnabled(busy || (!list_.isEmpty() && !folder_.isEmpty()));
    open_->setVisible(!written_.isEmpty() && !busy);
    bar_->setVisible(busy);
    busy ? tick_.start() : tick_.stop();
}

void KitDialog::start() {
    auto wish = wish_;
    wish.list = list_.toStdString();
    wish.bench.name = QFileInfo(list_).completeBaseName().toStdString();
    wish.mmPerUnit = kit::unitFrom(unitWords[unit_->chosen()]).value_or(std::nullopt);
    wish.effort = efforts[effort_->chosen()];
    found_->clear();
    written_.clear();
    say(tr("Reading, laying out, proofing and writing…"), false);
    background_.run(
        lane, tr("Making the kit"),
        [wish = std::move(wish), folder = folder_.toStdString()](Progress& progress) -> Answer {
            auto made = kit::made(wish, realDisk(), progress);
            // Nothing is half written: up to here a stop leaves all as it was.
            if (made && progress.cancelled()) return {Problem::cancelled(), Problem::cancelled()};
            if (!made) return {made.problem(), made.problem()};
            auto files = kit::written(*made, folder, realDisk());
            return {std::move(made), std::move(files)};
        },
        this, [this](Answer answer) { take(answer); });
    look();
}

void KitDialog::take(const Answer& answer) {
    look();
    if (!answer.files)
        return say(answer.files.problem().isCancelled ? tr("Stopped. Nothing was written.")
                                                      : QString::fromStdString(answer.files.problem().text()),
                   !answer.files.problem().isCancelled);
    const auto& made = *answer.made;
    constexpr Token colours[] = {Token::faded, Token::ochre, Token::noGo};
    auto look = made.look;
    std::stable_sort(look.begin(), look.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
    for (const auto& [verdict, what] : look) {
        auto* item = new QListWidgetItem(
            tr("%1: %2").arg(QString::fromUtf8(verdictName(verdict).data()), QString::fromStdString(what)), found_);
        item->setForeground(theme().color(colours[static_cast<int>(verdict)]));
    }
    if (look.empty()) new QListWidgetItem(tr("Nothing to look at."), found_);
    for (const auto& file : *answer.files) written_ << QString::fromStdString(file.string());
    const QString counts = tr("%1 on %2, %3 % of that is parts.")
                               .arg(QString::fromStdString(kit::countWords(made.parts, made.drawings)))
                               .arg(made.sheets == 1 ? tr("one sheet") : tr("%1 sheets").arg(made.sheets))
                               .arg(100 * made.share, 0, 'f', 1);
    if (made.go && made.left == 0)
        say(counts + " " + tr("%1 files written into %2.").arg(written_.size()).arg(folder_), false);
    else
        say(counts + " " +
                (made.go ? tr("%1 parts lie on no sheet.").arg(made.left)
                         : tr("A sheet is a no-go: no program was written.")),
            true);
    this->look();
}

} // namespace ferro::app
