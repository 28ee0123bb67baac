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

void LevelBar::mousePressEvent(QMouseEvent* event) {
    gesture_ = freshGesture(); // one drag is one edit
    mouseMoveEvent(event);
}

void LevelBar::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton)
        Q_EMIT levelAsked(std::clamp(static_cast<int>(std::lround(event->position().x() / width() * 256)), 1, 255),
                          gesture_);
}

void LevelBar::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Left)
        Q_EMIT levelAsked(std::max(1, level_ - 1), 0);
    else if (event->key() == Qt::Key_Right)
        Q_EMIT levelAsked(std::min(255, level_ + 1), 0);
    else
        QWidget::keyPressEvent(event);
}

SwatchRow::SwatchRow(QWidget* parent) : QWidget(parent) {
    setObjectName("colourSwatches");
    setAccessibleName(tr("Colours of the picture"));
    setCursor(Qt::PointingHandCursor);
}

namespace {
constexpr int swatch = 28, between = 6; // px
int perRow(int width) { return std::max(1, (width + between) / (swatch + between)); }
} // namespace

void SwatchRow::setFacts(const std::vector<trace::Colour>& all, const std::vector<trace::Colour>& used) {
    all_ = all;
    used_ = used;
    const int columns = perRow(width()), rows = (static_cast<int>(all.size()) + columns - 1) / columns;
    setFixedHeight(std::max(1, rows) * (swatch + between));
    update();
}

void SwatchRow::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const int columns = perRow(width());
    for (std::size_t i = 0; i < all_.size(); ++i) {
        const int n = static_cast<int>(i);
        const QRectF box(n % columns * (swatch + between), n / columns * (swatch + between), swatch, swatch);
        const bool isUsed = std::find(used_.begin(), used_.end(), all_[i]) != used_.end();
        const QRectF inner = isUsed ? box : box.adjusted(8, 8, -8, -8); // size and not hue alone says what is out
        painter.fillRect(inner, QColor(all_[i].r, all_[i].g, all_[i].b));
        painter.setPen(theme().pen(isUsed ? Token::ink : Token::rule));
        painter.drawRect(inner.adjusted(0.5, 0.5, -0.5, -0.5));
    }
}

void SwatchRow::mousePressEvent(QMouseEvent* event) {
    const int columns = perRow(width()), column = static_cast<int>(event->position().x()) / (swatch + between),
              row = static_cast<int>(event->position().y()) / (swatch + between);
    const int index = row * columns + column;
    if (column < columns && index >= 0 && index < static_cast<int>(all_.size()))
        Q_EMIT toggled(static_cast<std::size_t>(index));
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
    even_ = plainButton(tr("Even the light"), "evenTheLight");
    picture_->add(even_);
    connect(even_, &QPushButton::clicked, this, [this] {
        auto steps = session_.tracer().cleanSteps();
        steps.push_back(picture::freshStep(picture::CleanStep::Kind::evenLight));
        session_.tracer().cleanUp(std::move(steps));
    });
    width_ = quantity(picture_, tr("Width"), Measure::length, "pictureWidth");
    width_->setRange(0.1, 10'000);
    connect(width_, &QuantityField::edited, this, [this](double value) {
        if (const auto* item = session_.tracer().picture())
            session_.apply(
                tr("Size picture"),
                job::withArtwork(session_.job(), artwork::withSize(*session_.job().artwork, {item->id}, value, 0)));
    });

    fade_ = quantity(picture_, tr("Faded"), Measure::percent, "pictureFade");
    fade_->setRange(0, 100);
    fade_->setHint(tr("as it lies below the pieces"));
    const auto fade = [this](double percent, quint64 gesture) {
        if (const auto* item = session_.tracer().picture())
            session_.apply(
                tr("Fade the picture"),
                job::withArtwork(session_.job(), artwork::withFade(*session_.job().artwork, {item->id}, percent / 100)),
                gesture);
    };
    connect(fade_, &QuantityField::edited, this, [fade](double percent) { fade(percent, 0); });
    connect(fade_, &QuantityField::scrubbed, this, fade);

    clean_ = new CleanSection(session_);
    parts_ = new AreaSection(session_);
    connect(clean_, &CleanSection::refused, this, [this](const QString& why) { Q_EMIT told(why, true); });
    column_->insertWidget(column_->count() - 1, clean_);

    find_ = section(tr("Find"));
    auto* oneOf = new QButtonGroup(find_); // each is in a row of its own
    const auto radio = [&](const QString& name, const QString& what, const char* object) {
        auto* button = new QRadioButton(name);
        button->setObjectName(QLatin1String(object));
        auto* whole = new QWidget; // hidden as one
        auto* line = new QHBoxLayout(whole);
        line->setContentsMargins(0, 0, 0, 0);
        auto* words = new QLabel(what);
        words->setProperty("faded", true);
        line->addWidget(button);
        line->addStretch();
        line->addWidget(words);
        find_->add(whole);
        oneOf->addButton(button);
        return button;
    };
    const std::pair<QString, QString> ways[] = {
        {tr("Areas"), tr("filled shapes by level")},  {tr("Rim"), tr("one silhouette")},
        {tr("Strokes"), tr("centre lines of a pen")}, {tr("Colours"), tr("each flat colour by itself")},
        {tr("Edges"), tr("where greys change")},      {tr("Nothing"), tr("this patch is left out")}};
    static_assert(std::size(ways) == trace::findWords.size());
    for (std::size_t i = 0; i < ways_.size(); ++i) {
        // "findAreas", "findRim" …: the words of the command line.
        QString name = QStringLiteral("find");
        for (const auto& part :
             QString::fromUtf8(trace::findWords[i].data(), static_cast<qsizetype>(trace::findWords[i].size()))
                 .split('-'))
            name += part.left(1).toUpper() + part.mid(1);
        ways_[i] = radio(ways[i].first, ways[i].second, name.toLatin1().constData());
        connect(ways_[i], &QRadioButton::clicked, this,
                [this, i] { ask([i](trace::Settings& s) { s.find = static_cast<trace::Find>(i); }); });
    }

    colours_ = section(tr("Colours"));
    swatches_ = new SwatchRow;
    colours_->add(swatches_);
    colours_->add(captionLabel(tr("Click a colour to leave it out: it goes to what looks most like it. The Pick tool "
                                  "takes one more from the picture.")));
    count_ = quantity(colours_, tr("At most"), Measure::count, "colourCount");
    count_->setRange(0, 64);
    count_->setHint(tr("0: as many as can be told apart"));
    goUnder_ = new QCheckBox(tr("Go on under each other"));
    goUnder_->setObjectName("coloursGoUnder");
    paper_ = new QCheckBox(tr("The paper too"));
    paper_->setObjectName("coloursPaper");
    colours_->add(goUnder_);
    colours_->add(paper_);
    connect(count_, &QuantityField::edited, this,
            [this](double n) { ask([n](trace::Settings& s) { s.colours = static_cast<int>(n), s.palette.clear(); }); });
    connect(goUnder_, &QCheckBox::clicked, this,
            [this](bool on) { ask([on](trace::Settings& s) { s.goUnder = on; }); });
    connect(paper_, &QCheckBox::clicked, this, [this](bool on) { ask([on](trace::Settings& s) { s.paper = on; }); });
    connect(swatches_, &SwatchRow::toggled, this, [this](std::size_t index) {
        auto used = session_.tracer().settings().palette;
        if (used.empty()) used = offered_;
        const auto at = std::find(used.begin(), used.end(), offered_[index]);
        if (at == used.end())
            used.push_back(offered_[index]);
        else if (used.size() > 1)
            used.erase(at);
        if (used.size() == offered_.size()) used.clear();
        ask([&](trace::Settings& s) { s.palette = used; });
    });

    level_ = section(tr("Level"));
    bar_ = new LevelBar;
    level_->add(bar_);
    automatic_ = new QCheckBox(tr("Found automatically"));
    automatic_->setObjectName("levelAutomatic");
    invert_ = new QCheckBox(tr("Light on dark"));
    invert_->setObjectName("traceInvert");
    above_ = quantity(level_, tr("Not darker than"), Measure::count, "traceAbove");
    above_->setRange(0, 255);
    above_->setHint(tr("a band of greys; 0: no lower end"));
    connect(above_, &QuantityField::edited, this,
            [this](double v) { ask([v](trace::Settings& s) { s.above = static_cast<int>(v); }); });
    level_->add(automatic_);
    level_->add(invert_);
    connect(bar_, &LevelBar::levelAsked, this,
            [this](int level, quint64 gesture) { ask([level](trace::Settings& s) { s.level = level; }, gesture); });
    connect(automatic_, &QCheckBox::clicked, this, [this](bool on) {
        const int now = session_.tracer().result() ? session_.tracer().result()->level : 128;
        ask([on, now](trace::Settings& s) { s.level = on ? -1 : now; });
    });
    connect(invert_, &QCheckBox::clicked, this, [this](bool on) { ask([on](trace::Settings& s) { s.invert = on; }); });

    curve_ = section(tr("Curve"));
    follow_ = quantity(curve_, tr("Follow within"), Measure::length, "followWithin");
    follow_->setRange(0, 5);
    follow_->setHint(tr("0: as near as the pixels tell"));
    corners_ = quantity(curve_, tr("Corners under"), Measure::angle, "cornersUnder");
    corners_->setRange(0, 180);
    speck_ = quantity(curve_, tr("Specks under"), Measure::area, "speck");
    speck_->setRange(0, 10'000);
    speckFound_ = new QCheckBox(tr("Specks found by the picture"));
    speckFound_->setObjectName("speckFound");
    curve_->add(speckFound_);
    connect(speckFound_, &QCheckBox::clicked, this, [this](bool on) {
        const auto now = session_.tracer().result();
        ask([on, least = now ? now->speck : 0](trace::Settings& s) { s.speck = on ? -1 : least; });
    });
    const auto both = [this](QuantityField* field, double trace::Settings::*member) {
        connect(field, &QuantityField::edited, this,
                [this, member](double value) { ask([=](trace::Settings& s) { s.*member = value; }); });
        connect(field, &QuantityField::scrubbed, this, [this, member](double value, quint64 gesture) {
            ask([=](trace::Settings& s) { s.*member = value; }, gesture);
        });
    };
    both(follow_, &trace::Settings::followWithin);
    both(corners_, &trace::Settings::cornersUnder);
    both(speck_, &trace::Settings::speck);

    line_ = quantity(curve_, tr("Lines up to"), Measure::length, "traceLine");
    line_->setRange(0.01, 100);
    step_ = quantity(curve_, tr("Least step"), Measure::count, "traceStep");
    step_->setRange(1, 255);
    step_->setHint(tr("greys that an edge differs by"));
    both(line_, &trace::Settings::lineWidth);
    both(step_, &trace::Settings::leastStep);
    column_->insertWidget(column_->count() - 1, parts_);

    result_ = section(tr("Result"));
    words_ = wrappedLabel();
    words_->setObjectName("traceResult");
    more_ = captionLabel();
    result_->add(words_);
    keep_ = plainButton(tr("Keep them"), "keepSpecks");
    connect(keep_, &QPushButton::clicked, this, [this] { ask([](trace::Settings& s) { s.speck = 0; }); });
    result_->add(more_);
    result_->add(keep_);
}

void SourceSheet::ask(const std::function<void(trace::Settings&)>& change, quint64 gesture) {
    auto settings = session_.tracer().settings();
    change(settings);
    session_.tracer().setSettings(settings, gesture);
}

void SourceSheet::refresh() {
    const auto* item = session_.tracer().picture();
    if (item && !picture_) buildSections();
    if (picture_)
        for (auto* part :
             std::initializer_list<QWidget*>{picture_, clean_, parts_, find_, level_, curve_, result_, colours_})
            part->setVisible(item);
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
    const auto& q = session_.tracer().quality();
    const bool good = q.verdict == picture::Quality::Verdict::good;
    quality_->setText(q.pxPerMm > 0 ? QStringLiteral("<span style='color:%1'>%2 %3</span>")
                                          .arg(theme().color(good ? Token::verdigris : Token::ochre).name(),
                                               good ? "●" : "▲", QString::fromStdString(wordsFor(q)))
                                    : QString());
    even_->setVisible(q.pxPerMm > 0 && q.verdict == picture::Quality::Verdict::uneven);
    const auto s = session_.tracer().settings();
    for (auto* field : {width_, speck_, follow_, corners_}) field->setUnits(units);
    width_->setQuantity(width);
    fade_->setVisible(item->underlay);
    fade_->setQuantity(item->fade * 100);
    follow_->setQuantity(s.followWithin);
    corners_->setQuantity(s.cornersUnder);
    ways_[static_cast<std::size_t>(s.find)]->setChecked(true);
    const bool byColour = s.find == trace::Find::colours, edges = s.find == trace::Find::edges;
    clean_->refresh();
    parts_->refresh();
    // Only a patch can be left out, and colours cannot be parted.
    ways_.back()->parentWidget()->setVisible(session_.tracer().patch() >= 0);
    level_->setVisible(!byColour && !edges && s.find != trace::Find::nothing);
    for (auto* field : {line_, step_}) field->setVisible(edges);
    line_->setUnits(units);
    line_->setQuantity(s.lineWidth);
    step_->setQuantity(s.leastStep);
    above_->setQuantity(s.above);
    colours_->setVisible(byColour);
    count_->setQuantity(s.colours);
    goUnder_->setChecked(s.goUnder);
    paper_->setChecked(s.paper);
    automatic_->setChecked(s.level == -1);
    invert_->setChecked(s.invert);
    const auto result = session_.tracer().result();
    speckFound_->setChecked(s.speck < 0);
    speck_->setQuantity(s.speck >= 0 ? s.speck : result ? result->speck : 0);
    bar_->setFacts(session_.tracer().histogram(), s.level == -1 ? (result ? result->level : 128) : s.level,
                   s.level == -1);
    if (result && s.palette.empty()) offered_ = session_.tracer().coloursFound();
    for (const auto& picked : s.palette)
        if (std::find(offered_.begin(), offered_.end(), picked) == offered_.end()) offered_.push_back(picked);
    swatches_->setFacts(offered_, s.palette.empty() ? offered_ : s.palette);
    if (!result) {
        words_->setText(tr("tracing…"));
        more_->clear();
        keep_->hide();
        return;
    }
    words_->setText(tr("%1 pieces · %2 points · off by %3 at most")
                        .arg(result->pieces.size())
                        .arg(result->points)
                        .arg(QString::fromStdString(shown(result->largestMiss, Measure::length, units))));
    QStringList more;
    if (result->specksDropped)
        more << tr("%1 specks under %2 left out")
                    .arg(result->specksDropped)
                    .arg(QString::fromStdString(shown(result->speck, Measure::area, units)));
    for (const auto& n : result->notices) more << QString::fromStdString(n.text);
    const auto& all = session_.job().artwork->items;
    if (const auto before = std::count_if(all.begin(), all.end(), [&](const auto& piece) {
            return piece.origin && piece.origin->picture == item->id;
        }))
        more << tr("Accepted, this takes the place of the trace before (%1 pieces); what was changed by hand stays.")
                    .arg(before);
    more_->setText(more.join(QStringLiteral("\n")));
    keep_->setVisible(result->specksDropped > 0);
}

} // namespace ferro::app
