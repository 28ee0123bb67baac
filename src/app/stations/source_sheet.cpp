#include "app/stations/source_sheet.h"

#include "app/theme/theme.h"

namespace ferro::app {

LevelBar::LevelBar(QWidget* parent) : QWidget(parent) {
    setObjectName("levelBar");
    setAccessibleName(tr("Level between dark and light"));
    setFixedHeight(56);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::SizeHorCursor);
}

void LevelBar::setFacts(const std::array<std::size_t, 256>& histogram, int level, bool automatic) {
    histogram_ = histogram;
    level_ = level;
    automatic_ = automatic;
    update();
}

void LevelBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    // Square roots: the paper's peak must not flatten the ink's.
    double most = 1;
    for (const auto n : histogram_) most = std::max(most, std::sqrt(static_cast<double>(n)));
    constexpr int bars = 64;
    const double step = width() / static_cast<double>(bars), base = height() - 4;
    for (int i = 0; i < bars; ++i) {
        double n = 0;
        for (int k = 0; k < 4; ++k)
            n = std::max(n, std::sqrt(static_cast<double>(histogram_[static_cast<std::size_t>(i * 4 + k)])));
        const double h = std::max(1.0, n / most * (base - 16));
        painter.fillRect(QRectF(i * step + 0.5, base - h, step - 1, h),
                         theme().color(i * 4 < level_ ? Token::iron : Token::rule));
    }
    const double x = level_ / 256.0 * width();
    painter.setPen(theme().pen(Token::oxide, 2));
    painter.drawLine(QPointF(x, 4), QPointF(x, base));
    painter.setFont(theme().caption());
    const QString words = automatic_ ? tr("%1 auto").arg(level_) : QString::number(level_);
    painter.drawText(QRectF(x > width() - 60 ? x - 66 : x + 5, 2, 60, 14),
                     x > width() - 60 ? Qt::AlignRight : Qt::AlignLeft, words);
    if (hasFocus()) {
        painter.setPen(theme().pen(Token::rule));
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void LevelBar::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton)
        Q_EMIT levelAsked(std::clamp(static_cast<int>(std::lround(event->position().x() / width() * 256)), 1, 255));
}

void LevelBar::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Left)
        Q_EMIT levelAsked(std::max(1, level_ - 1));
    else if (event->key() == Qt::Key_Right)
        Q_EMIT levelAsked(std::min(255, level_ + 1));
    else
        QWidget::keyPressEvent(event);
}

SourceSheet::SourceSheet(Session& session) : StationSheet(session, tr("Trace"), "sourceSheet") {
    none_ = captionLabel(
        tr("Choose a picture on the bench to trace it. A picture comes in by “Add artwork…”, by drop or by paste."));
    none_->setContentsMargins(16, 4, 16, 8);
    column_->insertWidget(1, none_);
}

void SourceSheet::buildSections() {
    picture_ = section(tr("Picture"));
    size_ = wrappedLabel();
    quality_ = wrappedLabel();
    picture_->add(size_);
    picture_->add(quality_);
    width_ = quantity(picture_, tr("Width"), Measure::length, "pictureWidth");
    width_->setRange(0.1, 10'000);
    connect(width_, &QuantityField::edited, this, [this](double value) {
        if (const auto* item = session_.tracePicture())
            session_.apply(
                tr("Size picture"),
                job::withArtwork(session_.job(), artwork::withSize(*session_.job().artwork, {item->id}, value, 0)));
    });

    find_ = section(tr("Find"));
    const auto radio = [&](const QString& name, const QString& what, const char* object) {
        auto* button = new QRadioButton(name);
        button->setObjectName(QLatin1String(object));
        auto* line = new QHBoxLayout;
        auto* words = new QLabel(what);
        words->setProperty("faded", true);
        line->addWidget(button);
        line->addStretch();
        line->addWidget(words);
        find_->add(line);
        return button;
    };
    areas_ = radio(tr("Areas"), tr("filled shapes by level"), "findAreas");
    edge_ = radio(tr("Outer edge"), tr("one silhouette"), "findOuterEdge");
    strokes_ = radio(tr("Strokes"), tr("centre lines of a pen"), "findStrokes");
    connect(strokes_, &QRadioButton::clicked, this,
            [this] { ask([](trace::Settings& s) { s.find = trace::Find::strokes; }); });
    connect(areas_, &QRadioButton::clicked, this,
            [this] { ask([](trace::Settings& s) { s.find = trace::Find::areas; }); });
    connect(edge_, &QRadioButton::clicked, this,
            [this] { ask([](trace::Settings& s) { s.find = trace::Find::outerEdge; }); });

    level_ = section(tr("Level"));
    bar_ = new LevelBar;
    level_->add(bar_);
    automatic_ = new QCheckBox(tr("Found automatically"));
    automatic_->setObjectName("levelAutomatic");
    invert_ = new QCheckBox(tr("Light on dark"));
    invert_->setObjectName("traceInvert");
    level_->add(automatic_);
    level_->add(invert_);
    connect(bar_, &LevelBar::levelAsked, this,
            [this](int level) { ask([level](trace::Settings& s) { s.level = level; }); });
    connect(automatic_, &QCheckBox::clicked, this, [this](bool on) {
        const int now = session_.traceResult() ? session_.traceResult()->level : 128;
        ask([on, now](trace::Settings& s) { s.level = on ? -1 : now; });
    });
    connect(invert_, &QCheckBox::clicked, this, [this](bool on) { ask([on](trace::Settings& s) { s.invert = on; }); });

    curve_ = section(tr("Curve"));
    follow_ = quantity(curve_, tr("Follow within"), Measure::length, "followWithin");
    follow_->setRange(0, 5);
    corners_ = quantity(curve_, tr("Corners under"), Measure::angle, "cornersUnder");
    corners_->setRange(0, 180);
    speck_ = quantity(curve_, tr("Specks under"), Measure::area, "speck");
    speck_->setRange(0, 10'000);
    const auto both = [this](QuantityField* field, double trace::Settings::*member) {
        connect(field, &QuantityField::edited, this,
                [this, member](double value) { ask([=](trace::Settings& s) { s.*member = value; }); });
        connect(field, &QuantityField::scrubbed, this,
                [this, member](double value) { ask([=](trace::Settings& s) { s.*member = value; }); });
    };
    both(follow_, &trace::Settings::followWithin);
    both(corners_, &trace::Settings::cornersUnder);
    both(speck_, &trace::Settings::speck);

    result_ = section(tr("Result"));
    words_ = wrappedLabel();
    words_->setObjectName("traceResult");
    more_ = captionLabel();
    result_->add(words_);
    result_->add(more_);
}

void SourceSheet::ask(const std::function<void(trace::Settings&)>& change) {
    auto settings = session_.traceSettings();
    change(settings);
    session_.setTraceSettings(settings);
}

void SourceSheet::refresh() {
    const auto* item = session_.tracePicture();
    if (item && !picture_) buildSections();
    if (picture_)
        for (auto* part : {picture_, find_, level_, curve_, result_}) part->setVisible(item);
    none_->setVisible(!item);
    setNote(item ? QString::fromStdString(item->name) : QString());
    if (!item) return;
    const auto* leaf = artwork::pictureOf(*item);
    const auto units = session_.job().units;
    const double width = artwork::boundsOf(*item).width();
    size_->setText(tr("%1 × %2 px at %3: %4 px/mm")
                       .arg(leaf->picture.width)
                       .arg(leaf->picture.height)
                       .arg(QString::fromStdString(shown(width, Measure::length, units)))
                       .arg(leaf->picture.width / width, 0, 'f', 1));
    const auto& q = session_.traceQuality();
    const bool good = q.verdict == picture::Quality::Verdict::good;
    quality_->setText(q.pxPerMm > 0 ? QStringLiteral("<span style='color:%1'>%2 %3</span>")
                                          .arg(theme().color(good ? Token::verdigris : Token::ochre).name(),
                                               good ? "●" : "▲", QString::fromStdString(wordsFor(q)))
                                    : QString());
    const auto& s = session_.traceSettings();
    for (auto* field : {width_, speck_, follow_, corners_}) field->setUnits(units);
    width_->setQuantity(width);
    speck_->setQuantity(s.speck);
    follow_->setQuantity(s.followWithin);
    corners_->setQuantity(s.cornersUnder);
    (s.find == trace::Find::areas ? areas_ : s.find == trace::Find::outerEdge ? edge_ : strokes_)->setChecked(true);
    automatic_->setChecked(s.level == -1);
    invert_->setChecked(s.invert);
    const auto result = session_.traceResult();
    bar_->setFacts(session_.traceHistogram(), s.level == -1 ? (result ? result->level : 128) : s.level, s.level == -1);
    if (!result) {
        words_->setText(tr("tracing…"));
        more_->clear();
        return;
    }
    words_->setText(tr("%1 pieces · %2 points · off by %3 at most")
                        .arg(result->pieces.size())
                        .arg(result->points)
                        .arg(QString::fromStdString(shown(result->largestMiss, Measure::length, units))));
    more_->setText(result->specksDropped ? tr("%1 specks dropped").arg(result->specksDropped) : QString());
}

} // namespace ferro::app
