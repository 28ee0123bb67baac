#include "app/shell/dialect_dialog.h"

#include "app/theme/theme.h"

#include <QScrollArea>

namespace ferro::app {

namespace {

QString textOf(const std::vector<std::string>& lines) {
    QStringList all;
    for (const auto& line : lines) all << QString::fromStdString(line);
    return all.join('\n');
}
std::vector<std::string> linesOf(const QPlainTextEdit* edit) {
    std::vector<std::string> lines;
    for (const QString& line : edit->toPlainText().split('\n'))
        if (!line.trimmed().isEmpty()) lines.push_back(line.toStdString());
    return lines;
}
QPlainTextEdit* codeEdit(const char* name, const QString& accessible) {
    auto* edit = new QPlainTextEdit;
    edit->setObjectName(QLatin1String(name));
    edit->setAccessibleName(accessible);
    edit->setProperty("code", true); // its face is the style sheet's
    edit->setTabChangesFocus(true);
    edit->setLineWrapMode(QPlainTextEdit::NoWrap);
    return edit;
}

} // namespace

DialectDialog::DialectDialog(const program::Dialect& dialect, QWidget* parent) : QDialog(parent), from_(dialect) {
    setObjectName("dialectDialog");
    setWindowTitle(tr("Dialect"));
    resize(900, 640);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 16);
    auto* halves = new QHBoxLayout;
    halves->setSpacing(20);
    column->addLayout(halves, 1);

    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* page = new QWidget;
    auto* left = new QVBoxLayout(page);
    left->setContentsMargins(0, 0, 12, 0);
    left->setSpacing(8);
    scroll->setWidget(page);
    halves->addWidget(scroll, 1);
    const auto line = [&](const QString& label, const char* name) {
        auto* edit = new QLineEdit;
        edit->setObjectName(QLatin1String(name));
        edit->setAccessibleName(label);
        edit->setFixedWidth(190);
        left->addLayout(row(label, edit));
        connect(edit, &QLineEdit::textChanged, &soon_, qOverload<>(&QTimer::start));
        return edit;
    };
    key_ = line(tr("Key, by which jobs name it"), "dialectKey");
    title_ = line(tr("Title"), "dialectTitle");
    ending_ = line(tr("Ending of the files"), "dialectEnding");
    comment_ = line(tr("Remark, {} is its text"), "dialectComment");
    const auto choice = [&](const QString& label, const QStringList& words, const char* name) {
        auto* widget = new WordChoice({}, words);
        widget->setObjectName(QLatin1String(name));
        left->addLayout(row(label, widget));
        connect(widget, &WordChoice::asked, this, [this, widget](int index) {
            widget->setChosen(index);
            look();
        });
        return widget;
    };
    units_ = choice(tr("Units"), {tr("mm"), tr("inch")}, "dialectUnits");
    arcs_ = choice(tr("Arcs"), {tr("centre"), tr("radius"), tr("lines")}, "dialectArcs");
    const auto number = [&](const QString& label, double low, double high, const char* name) {
        auto* field = new QuantityField(label, Measure::count);
        field->setObjectName(QLatin1String(name));
        field->setRange(low, high);
        left->addWidget(field);
        const auto take = [this, field](double value) {
            field->setQuantity(std::round(value));
            look();
        };
        connect(field, &QuantityField::edited, this, take);
        connect(field, &QuantityField::scrubbed, this, take);
        return field;
    };
    decimals_ = number(tr("Decimals of places"), 2, 6, "dialectDecimals");
    feedDecimals_ = number(tr("Decimals of feeds"), 0, 6, "dialectFeedDecimals");
    numbers_ = number(tr("Line numbers, in steps of (0: none)"), 0, 1000, "dialectNumbers");
    modal_ = new QCheckBox(tr("Leave out words that do not change"));
    modal_->setObjectName("dialectModal");
    connect(modal_, &QCheckBox::toggled, this, &DialectDialog::look);
    left->addWidget(modal_);
    cycles_ = new QCheckBox(tr("Drilled holes in one word (G81, G83, G73)"));
    cycles_->setObjectName("dialectCycles");
    connect(cycles_, &QCheckBox::toggled, this, &DialectDialog::look);
    left->addWidget(cycles_);
    wear_ = new QCheckBox(tr("The controller makes up for wear (G41, G42)"));
    wear_->setObjectName("dialectWear");
    connect(wear_, &QCheckBox::toggled, this, &DialectDialog::look);
    left->addWidget(wear_);
    heights_ = new QCheckBox(tr("Z where the focus goes down"));
    heights_->setObjectName("dialectHeights");
    connect(heights_, &QCheckBox::toggled, this, &DialectDialog::look);
    left->addWidget(heights_);
    const std::array<std::pair<QString, const char*>, 9> parts{{{tr("At the beginning"), "dialectHeader"},
                                                                {tr("At a change of tool"), "dialectToolChange"},
                                                                {tr("Spindle or beam on"), "dialectStart"},
                                                                {tr("Spindle or beam off"), "dialectStop"},
                                                                {tr("At a stop"), "dialectPause"},
                                                                {tr("At the end"), "dialectFooter"},
                                                                {tr("Air on"), "dialectAir"},
                                                                {tr("Air off"), "dialectAirOff"},
                                                                {tr("Standing lit, to pierce"), "dialectPierce"}}};
    for (std::size_t i = 0; i < parts.size(); ++i) {
        left->addWidget(labels_[i] = new QLabel(parts[i].first));
        lines_[i] = codeEdit(parts[i].second, parts[i].first);
        lines_[i]->setFixedHeight(i == 0 ? 104 : 66);
        left->addWidget(lines_[i]);
        connect(lines_[i], &QPlainTextEdit::textChanged, &soon_, qOverload<>(&QTimer::start));
    }
    left->addWidget(
        captionLabel(tr("Filled in: {number} of the tool, {turns} of the spindle, {spinup} seconds, "
                        "{travel} height, {force} of a blade, {name} of the job; to pierce {seconds} and {power}.")));
    left->addStretch();

    auto* right = new QVBoxLayout;
    halves->addLayout(right, 1);
    right->addWidget(new QLabel(tr("How it writes")));
    sample_ = codeEdit("dialectSample", tr("Sample program"));
    sample_->setReadOnly(true);
    right->addWidget(sample_, 1);
    verdict_ = wrappedLabel();
    verdict_->setObjectName("dialectVerdict");
    verdict_->setMinimumHeight(54);
    verdict_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    right->addWidget(verdict_);
    kept_ = captionLabel();
    right->addWidget(kept_);

    away_ = plainButton(tr("Take your own away"), "dialectAway");
    keep_ = addAnswers(this, column, tr("Keep"), "dialectKeep", tr("Leave"));
    right->addWidget(away_, 0, Qt::AlignLeft);
    disconnect(keep_, &QPushButton::clicked, nullptr, nullptr); // it closes only when it could be kept
    connect(keep_, &QPushButton::clicked, this, &DialectDialog::keep);
    connect(away_, &QPushButton::clicked, this, [this] {
        if (auto gone = program::removeOwnDialect(from_.key); !gone)
            return verdict_->setText(QString::fromStdString(gone.problem().text()));
        done_ = true;
        accept();
    });
    soon_.setSingleShot(true);
    soon_.setInterval(120);
    connect(&soon_, &QTimer::timeout, this, &DialectDialog::look);
    show(dialect);
}

void DialectDialog::show(const program::Dialect& d) {
    key_->setText(QString::fromStdString(d.key));
    title_->setText(QString::fromStdString(d.title));
    ending_->setText(QString::fromStdString(d.ending));
    comment_->setText(QString::fromStdString(d.comment));
    units_->setChosen(d.units == Units::mm ? 0 : 1);
    arcs_->setChosen(!d.arcs ? 2 : d.byRadius ? 1 : 0);
    decimals_->setQuantity(d.decimals);
    feedDecimals_->setQuantity(d.feedDecimals);
    numbers_->setQuantity(d.lineNumbers);
    modal_->setChecked(d.modal);
    cycles_->setChecked(d.cycles);
    wear_->setChecked(d.wear);
    wear_->setVisible(d.process == shop::Process::rotary);
    heights_->setChecked(d.heights);
    heights_->setVisible(d.beam());
    for (std::size_t i = 6; i < lines_.size(); ++i) labels_[i]->setVisible(d.beam()), lines_[i]->setVisible(d.beam());
    cycles_->setVisible(d.process == shop::Process::rotary);
    const std::array<const std::vector<std::string>*, 9> all{&d.header, &d.toolChange, &d.start,  &d.stop,  &d.pause,
                                                             &d.footer, &d.air,        &d.airOff, &d.pierce};
    for (std::size_t i = 0; i < all.size(); ++i) lines_[i]->setPlainText(textOf(*all[i]));
    look();
}

program::Dialect DialectDialog::dialect() const {
    program::Dialect d = from_;
    d.key = key_->text().trimmed().toStdString();
    d.title = title_->text().trimmed().toStdString();
    d.ending = ending_->text().trimmed().toStdString();
    d.comment = comment_->text().toStdString();
    d.units = units_->chosen() == 1 ? Units::inch : Units::mm;
    d.arcs = arcs_->chosen() != 2;
    d.byRadius = arcs_->chosen() == 1;
    const auto whole = [](const QuantityField* field) { return static_cast<int>(std::lround(field->quantity())); };
    d.decimals = whole(decimals_), d.feedDecimals = whole(feedDecimals_), d.lineNumbers = whole(numbers_);
    d.modal = modal_->isChecked();
    d.cycles = cycles_->isChecked();
    d.wear = wear_->isChecked();
    d.heights = heights_->isChecked() && d.beam();
    const std::array<std::vector<std::string>*, 9> all{&d.header, &d.toolChange, &d.start,  &d.stop,  &d.pause,
                                                       &d.footer, &d.air,        &d.airOff, &d.pierce};
    for (std::size_t i = 0; i < all.size(); ++i) *all[i] = linesOf(lines_[i]);
    return d;
}

void DialectDialog::look() {
    soon_.stop();
    const auto d = dialect();
    auto fine = program::dialectFromText(program::toText(d));
    std::optional<Problem> problem;
    if (!fine)
        problem = fine.problem();
    else {
        const auto sample = program::sampleOf(d);
        const int at = sample_->verticalScrollBar()->value();
        sample_->setPlainText(QString::fromStdString(sample.text));
        sample_->verticalScrollBar()->setValue(at);
        problem = sample.problem;
    }
    verdict_->setText(
        problem ? QStringLiteral("<span style='color:%1'>%2</span>")
                      .arg(theme().color(Token::noGo).name(), QString::fromStdString(problem->text()).toHtmlEscaped())
        : d.beam() ? tr("Read back it says what was meant: two powers, a stop and an arc.")
        : d.process == shop::Process::blade
            ? tr("Read back it says what was meant: two blades, a stop and an arc.")
            : tr("Read back it says what was meant: two tools, a hole, a ramp and an arc."));
    keep_->setEnabled(!problem);
    const bool own = program::isOwnDialect(d.key);
    const auto known = program::knownDialects();
    const bool shipped = !own && std::find(known.begin(), known.end(), d.key) != known.end();
    kept_->setText(
        own ? tr("Your own; keeping it writes over it.")
        : shipped
            ? tr("Shipped; keeping it makes one of your own that is used instead. Another key leaves it as it is.")
            : tr("A new one of your own."));
    away_->setVisible(own && d.key == from_.key);
}

void DialectDialog::keep() {
    if (auto kept = program::saveOwnDialect(realDisk(), dialect()); !kept) {
        verdict_->setText(QString::fromStdString(kept.problem().text()));
        return;
    }
    done_ = true;
    accept();
}

} // namespace ferro::app
