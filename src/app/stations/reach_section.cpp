#include "app/stations/reach_section.h"

#include "app/theme/theme.h"

namespace ferro::app {

namespace {

/// One way to do the step: its tools at the left, time and what they leave at the right; a click takes it.
class ChoiceRow : public QAbstractButton {
public:
    ChoiceRow(const QString& tools, const QString& figures, bool taken, bool possible)
        : tools_(tools), figures_(figures), taken_(taken) {
        setFixedHeight(36);
        setEnabled(possible);
        setCursor(possible ? Qt::PointingHandCursor : Qt::ArrowCursor);
        setAccessibleName(tools + ": " + figures);
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        if (underMouse() && isEnabled()) painter.fillRect(rect(), theme().color(Token::card));
        const auto line = [&](double y, const QString& text, int size, Token colour) {
            painter.setFont(theme().text(size, taken_ && size == 13));
            painter.setPen(theme().color(colour));
            painter.drawText(QRectF(0, y, width(), 18), Qt::AlignVCenter,
                             painter.fontMetrics().elidedText(text, Qt::ElideRight, width()));
        };
        line(1, tools_, 13, isEnabled() ? Token::ink : Token::faded);
        line(17, figures_, 12, Token::faded);
        painter.setPen(theme().pen(hasFocus() ? Token::oxide : Token::rule));
        painter.drawLine(0, height() - 1, width(), height() - 1);
    }
    void enterEvent(QEnterEvent*) override { update(); }
    void leaveEvent(QEvent*) override { update(); }

private:
    QString tools_, figures_;
    bool taken_;
};

} // namespace

ReachSection::ReachSection(Session& session) : Section(tr("Reach")), session_(session) {
    left_ = captionLabel();
    left_->setObjectName("reachLeft");
    add(left_);
    compare_ = plainButton(tr("Compare tools"), "compareTools");
    compare_->setToolTip(tr("Time and what is left, for each tool on hand and for two or three in a row"));
    add(buttonRow({compare_}));
    words_ = captionLabel();
    add(words_);
    table_ = new QWidget;
    table_->setObjectName("toolChoices");
    rows_ = new QVBoxLayout(table_);
    rows_->setContentsMargins(0, 0, 0, 0);
    rows_->setSpacing(0);
    add(table_);
    connect(compare_, &QPushButton::clicked, this, [this] { session_.reacher().compare(); });
    connect(&session.reacher(), &Reacher::changed, this, &ReachSection::refresh);
    connect(&session.reacher(), &Reacher::choicesChanged, this, &ReachSection::refreshChoices);
}

void ReachSection::refresh() {
    const auto reach = session_.reacher().reach();
    const auto units = session_.job().units;
    if (!session_.reacher().isShown())
        left_->setText(tr("Not looked at: Shift+F9 shows what the tool does not reach."));
    else if (!reach)
        left_->setText(session_.background().busy("reach")
                           ? tr("Being worked out.")
                           : tr("Not known. Mend and Proof tell what is wrong with pieces."));
    else if (reach->places.empty())
        left_->setText(tr("The tool gets everywhere that this step is for."));
    else
        left_->setText(
            tr("Not reached: %1 in %n places, up to %2 thick.", nullptr, static_cast<int>(reach->places.size()))
                .arg(QString::fromStdString(shown(reach->square, Measure::area, units)),
                     QString::fromStdString(shown(reach->thickest, Measure::length, units))));
    refreshChoices();
}

void ReachSection::refreshChoices() {
    while (auto* item = rows_->takeAt(0)) {
        item->widget()->deleteLater();
        delete item;
    }
    const auto& choices = session_.reacher().choices();
    const auto& job = session_.job();
    words_->setText(session_.reacher().isComparing() ? tr("Planning with each tool …")
                    : choices.empty()                ? QString()
                                      : tr("Time, and what is left: area and thickest. A click takes it."));
    words_->setVisible(!words_->text().isEmpty());
    table_->setVisible(!choices.empty());
    const auto* step = plan::find(job.plan, session_.step());
    for (std::size_t i = 0; i < choices.size(); ++i) {
        const auto& choice = choices[i];
        QStringList names;
        for (const auto& key : choice.tools) {
            plan::Step probe;
            probe.tool = key;
            const auto* tool = job::toolOf(job, probe);
            names << QString::fromStdString(tool ? tool->name : key);
        }
        const QString figures =
            choice.cannot.empty() ? tr("%1 · left %2, %3")
                                        .arg(QString::fromStdString(shownTime(choice.seconds)),
                                             QString::fromStdString(shown(choice.left, Measure::area, job.units)),
                                             QString::fromStdString(shown(choice.thickest, Measure::length, job.units)))
                                  : QString::fromStdString(choice.cannot);
        auto* one =
            new ChoiceRow(names.join(tr(", then ")), figures,
                          choice.tools.size() == 1 && step && choice.tools[0] == step->tool, choice.cannot.empty());
        one->setObjectName(QStringLiteral("choice%1").arg(i));
        one->setToolTip(names.join(tr(", then ")) + "\n" + figures);
        rows_->addWidget(one);
        connect(
            one, &QAbstractButton::clicked, this, [this, i] { session_.reacher().take(i); }, Qt::QueuedConnection);
    }
}

} // namespace ferro::app
