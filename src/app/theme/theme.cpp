#include "app/theme/theme.h"

#include "formats/svg.h"

#include <array>

// A static library's resources are only there once asked for; outside any namespace, as the macro wants it.
static void takeResources() { Q_INIT_RESOURCE(fonts); }

namespace ferro::app {

namespace {

constexpr auto tokens = static_cast<std::size_t>(Token::count);
using Palette = std::array<QRgb, tokens>;
constexpr Palette paperPalette = {0xFFF3EEE3, 0xFFFBF8F0, 0xFFD5CEBF, 0xFFBFB5A0, 0xFF23282C, 0xFF6B6556,
                                  0xFF34495C, 0xFF9E3F22, 0xFF2F7D6B, 0xFFB97A16, 0xFFB3201C, 0xFFFBF8F0,
                                  0x38000000, 0xFF2E6A8E, 0xFFB8862B, 0xFF77507F, 0xFF5A6670, 0xFF3C7F62,
                                  0xFF7F7A33, 0xFFA08B6B, 0xFF7C5636, 0xFF54589A, 0xFF8A6A86, 0xFFA33F63};
constexpr Palette forgePalette = {0xFF211F1C, 0xFF2B2825, 0xFF171614, 0xFF464038, 0xFFEBE4D6, 0xFFA59C8A,
                                  0xFF9DB4C8, 0xFFD9734F, 0xFF5FB09C, 0xFFDDA544, 0xFFE5645E, 0xFF211F1C,
                                  0x70000000, 0xFF2E6A8E, 0xFFB8862B, 0xFF77507F, 0xFF5A6670, 0xFF3C7F62,
                                  0xFF7F7A33, 0xFFA08B6B, 0xFF7C5636, 0xFF54589A, 0xFF8A6A86, 0xFFA33F63};

/// The colour of each kind of step, by its name.
Token tokenOf(const plan::Kind* kind) {
    constexpr std::pair<std::string_view, Token> hues[] = {
        {"outline", Token::outline}, {"clear", Token::clear}, {"drill", Token::drill}, {"scribe", Token::scribe},
        {"groove", Token::groove},   {"bevel", Token::bevel}, {"skim", Token::skim},   {"carve", Token::carve},
        {"hatch", Token::hatch},     {"tone", Token::tone},   {"slit", Token::slit}};
    for (const auto& [name, token] : hues)
        if (kind && kind->name == name) return token;
    return Token::outline;
}

/// Our own line drawings, as path data on a 20 px square with y down.
const char* drawingOf(Glyph glyph) {
    switch (glyph) {
    case Glyph::select: return "M5 3L15 10L10.5 11L13 16.5M5 3L6 14L10.5 11";
    case Glyph::measure: return "M3 14L14 3L17 6L6 17ZM6 11L8 13M9 8L11 10M12 5L14 7";
    case Glyph::tab: return "M2 7H7V12H13V7H18M2 15H18";
    case Glyph::clamp: return "M4 16V8H12V4H16V16ZM4 12H12M8 8V5";
    case Glyph::add: return "M10 4V16M4 10H16";
    case Glyph::remove: return "M4 10H16";
    case Glyph::points:
        return "M3 16C5 8 10 5 17 4M3 13V19M0.5 16H5.5M14.5 1.5L19.5 6.5M19.5 1.5L14.5 6.5M7.5 8.5A1.8 1.8 0 1 1 7.4 "
               "8.6";
    case Glyph::draw: return "M3 8H12V17H3ZM9 5A4.5 4.5 0 1 1 15 11";
    case Glyph::up: return "M4 13L10 6L16 13";
    case Glyph::down: return "M4 7L10 14L16 7";
    case Glyph::fit: return "M3 7V3H7M13 3H17V7M17 13V17H13M7 17H3V13M7 8H13V12H7Z";
    case Glyph::plan: return "M3 4H17V16H3ZM7 8H13V12H7Z";
    case Glyph::round: return "M2 11L8 5L18 8L12 14ZM2 11V14L12 17V14M12 17L18 11V8";
    case Glyph::area: return "M4 4H7M10 4H13M16 4V7M16 10V13M16 16H13M10 16H7M4 16V13M4 10V7";
    case Glyph::eraser: return "M3 13L11 5L16 10L8 18H6ZM7 9L12 14M11 18H17";
    case Glyph::pick: return "M3 3H9V9H3ZM13 9V17M9 13H17";
    case Glyph::play: return "M6 4L16 10L6 16Z";
    case Glyph::pause: return "M7 4V16M13 4V16";
    case Glyph::stop: return "M5 5H15V15H5Z";
    case Glyph::home: return "M3 3V17H17M7 13L14 6M14 6V10M14 6H10";
    case Glyph::jump: return "M3 10H15M11 6L15 10L11 14";
    case Glyph::lock: return "M5 9H15V17H5ZM7 9V6A3 3 0 0 1 13 6V9";
    case Glyph::eye: return "M2 10C6 4 14 4 18 10C14 16 6 16 2 10M10 7.5A2.5 2.5 0 0 1 10 12.5A2.5 2.5 0 0 1 10 7.5";
    case Glyph::book: return "M6 3H14V17H6ZM6 6H14";
    case Glyph::typed: return "M4 16L14 6L16 4M4 16L6 15";
    case Glyph::reset: return "M5 6A7 7 0 1 1 3.5 12M5 2V6H9";
    case Glyph::plane: return "M3 15L8 5H17L12 15Z";
    case Glyph::stamp: return "M4 17H16M4 14H16V12H12V10L13 6A3 3 0 0 0 7 6L8 10V12H4Z";
    case Glyph::drop: return "M10 3V12M6 9L10 13L14 9M4 17H16";
    }
    return "";
}

QPainterPath pathFor(Glyph glyph) {
    QPainterPath out;
    const auto paths = formats::pathsFromSvgData(drawingOf(glyph));
    if (!paths) return out;
    for (const auto& path : *paths) {
        out.moveTo(path.start.x, path.start.y);
        for (std::size_t i = 0; i < path.segments.size(); ++i) {
            const auto& s = path.segments[i];
            if (s.kind == Segment::Kind::cubic)
                out.cubicTo(s.a.x, s.a.y, s.b.x, s.b.y, s.end.x, s.end.y);
            else if (s.kind == Segment::Kind::line)
                out.lineTo(s.end.x, s.end.y);
            else
                for (int k = 1; k <= 12; ++k) {
                    const Vec2 p = pointAt(path.from(i), s, k / 12.0);
                    out.lineTo(p.x, p.y);
                }
        }
        if (path.closed) out.closeSubpath();
    }
    return out;
}

/// The whole style sheet. Flat, square-shouldered, thin rules; every colour is a token.
QString styleSheet(const Theme& t) {
    const auto c = [&](Token token) { return t.color(token).name(); };
    QString text = R"(
QPushButton, QToolButton, QCheckBox, QRadioButton, QAbstractItemView { outline: none; }
QToolTip { background: @card; color: @ink; border: 1px solid @rule; padding: 4px; }
QMenuBar { background: @paper; border-bottom: 1px solid @rule; spacing: 0; }
QMenuBar::item { padding: 5px 12px; background: transparent; }
QMenuBar::item:selected { background: @card; color: @oxide; }
QMenu { background: @card; border: 1px solid @rule; padding: 4px 0; }
QMenu::item { padding: 5px 28px 5px 24px; background: transparent; }
QMenu::item:selected { background: @oxide; color: @onAccent; }
QMenu::item:disabled { color: @faded; background: transparent; }
QMenu::separator { height: 1px; background: @rule; margin: 4px 0; }
QPushButton { background: @card; border: 1px solid @rule; border-radius: 2px; padding: 4px 10px; min-height: 16px; }
QPushButton:hover { border-color: @oxide; }
QPushButton:pressed, QPushButton:checked { background: @oxide; color: @onAccent; border-color: @oxide; }
QPushButton:disabled { color: @faded; }
QPushButton[primary="true"] { background: @oxide; color: @onAccent; border-color: @oxide; }
QPushButton[primary="true"]:disabled { background: @rule; color: @paper; border-color: @rule; }
QPushButton:focus, QToolButton:focus { border: 1px solid @oxide; }
QToolButton { background: transparent; border: 1px solid transparent; border-radius: 2px; padding: 2px 6px; }
QToolButton:hover { border-color: @rule; background: @card; }
QToolButton:checked { background: @card; border-color: @oxide; color: @oxide; }
QLineEdit, QSpinBox, QComboBox, QPlainTextEdit { background: @card; border: 1px solid @rule; border-radius: 2px; padding: 3px 6px; selection-background-color: @oxide; selection-color: @onAccent; }
QPlainTextEdit[code="true"] { font-family: "League Mono"; font-size: 12px; }
QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus { border-color: @oxide; }
QLineEdit[bad="true"] { border-color: @noGo; color: @noGo; }
QLineEdit[dro="true"] { font-size: 20px; border: 1px solid transparent; padding: 0 2px; }
QLineEdit[dro="true"]:focus { border-color: @oxide; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { image: url(:/icons/down.png); width: 10px; height: 6px; margin-right: 6px; }
QToolButton[mark="true"] { padding: 0; border: none; background: transparent; }
QComboBox QAbstractItemView { background: @card; border: 1px solid @rule; selection-background-color: @oxide; selection-color: @onAccent; }
QScrollArea { border: none; }
QScrollBar:vertical { background: @paper; width: 10px; margin: 0; }
QScrollBar::handle:vertical { background: @rule; min-height: 24px; border-radius: 2px; margin: 2px; }
QScrollBar::add-line, QScrollBar::sub-line { height: 0; width: 0; }
QScrollBar:horizontal { background: @paper; height: 10px; }
QScrollBar::handle:horizontal { background: @rule; min-width: 24px; border-radius: 2px; margin: 2px; }
QListWidget { background: @card; border: 1px solid @rule; border-radius: 2px; }
QListWidget::item { padding: 4px 6px; }
QTreeView { background: @card; border: 1px solid @rule; border-radius: 2px; outline: none; }
QTreeView::item { padding: 2px 0; border: none; }
QTreeView::item:selected { background: @rule; color: @ink; }
QHeaderView::section { background: @card; color: @faded; border: none; border-bottom: 1px solid @rule; padding: 3px 5px; font-size: 11px; }
QListWidget::item:selected { background: @oxide; color: @onAccent; }
QRadioButton::indicator { width: 12px; height: 12px; border: 1px solid @rule; border-radius: 7px; background: @card; }
QRadioButton::indicator:checked { border: 4px solid @oxide; width: 6px; height: 6px; background: @card; }
QCheckBox::indicator, QTreeView::indicator { width: 12px; height: 12px; border: 1px solid @rule; border-radius: 2px; background: @card; }
QCheckBox::indicator:checked, QTreeView::indicator:checked { background: @oxide; border-color: @oxide; }
QCheckBox:focus, QRadioButton:focus { color: @oxide; }
QSlider::groove:horizontal { height: 2px; background: @ink; }
QSlider::handle:horizontal { width: 8px; height: 14px; margin: -6px 0; background: @oxide; }
QProgressBar { background: @card; border: 1px solid @rule; border-radius: 2px; text-align: center; max-height: 14px; font-size: 11px; }
QProgressBar::chunk { background: @verdigris; }
QLabel[caption="true"] { color: @faded; font-size: 11px; }
QLabel[faded="true"] { color: @faded; }
QLabel[title="true"] { font-size: 15px; font-weight: bold; }
QLabel[section="true"] { font-weight: bold; }
)";
    const std::pair<const char*, Token> names[] = {{"@onAccent", Token::onAccent}, {"@paper", Token::paper},
                                                   {"@card", Token::card},         {"@rule", Token::rule},
                                                   {"@ink", Token::ink},           {"@faded", Token::faded},
                                                   {"@oxide", Token::oxide},       {"@verdigris", Token::verdigris},
                                                   {"@noGo", Token::noGo}};
    for (const auto& [name, token] : names) text.replace(QLatin1String(name), c(token));
    return text;
}

} // namespace

Theme& theme() {
    static Theme one;
    return one;
}

Theme::Theme() {
    takeResources();
    const auto family = [](const char* file, const QString& otherwise) {
        const int id = QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/") + QLatin1String(file));
        const auto families = QFontDatabase::applicationFontFamilies(id);
        return families.isEmpty() ? otherwise : families.front();
    };
    words_ = family("B612-Regular.otf", words_);
    family("B612-Bold.otf", words_);
    mono_ = family("LeagueMono-NarrowMedium.otf", mono_);
    apply();
}

void Theme::setScheme(Scheme scheme) {
    scheme_ = scheme;
    apply();
    Q_EMIT changed();
}

void Theme::apply() {
    if (!qApp) return;
    qApp->setFont(text());
    // What holds for every widget goes by the palette; a rule for all would have the style sheet dress each one.
    QPalette palette;
    const std::pair<QPalette::ColorRole, Token> roles[] = {
        {QPalette::Window, Token::paper},     {QPalette::WindowText, Token::ink},
        {QPalette::Base, Token::card},        {QPalette::AlternateBase, Token::paper},
        {QPalette::Text, Token::ink},         {QPalette::Button, Token::card},
        {QPalette::ButtonText, Token::ink},   {QPalette::BrightText, Token::onAccent},
        {QPalette::ToolTipBase, Token::card}, {QPalette::ToolTipText, Token::ink},
        {QPalette::Highlight, Token::oxide},  {QPalette::HighlightedText, Token::onAccent},
        {QPalette::Light, Token::card},       {QPalette::Midlight, Token::rule},
        {QPalette::Mid, Token::rule},         {QPalette::Dark, Token::rule},
        {QPalette::Shadow, Token::rule},      {QPalette::PlaceholderText, Token::faded}};
    for (const auto& [role, token] : roles) palette.setColor(role, color(token));
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        palette.setColor(QPalette::Disabled, role, color(Token::faded));
    qApp->setPalette(palette);
    if (dressed_) qApp->setStyleSheet(styleSheet(*this));
}

void Theme::dress() {
    if (!std::exchange(dressed_, true)) apply();
}

QColor Theme::color(Token token) const {
    const auto& palette = scheme_ == Scheme::paper ? paperPalette : forgePalette;
    const QColor base = QColor::fromRgba(palette[static_cast<std::size_t>(token)]);
    return scheme_ == Scheme::forge && token >= Token::outline ? base.lighter(125) : base;
}

QColor Theme::ironOn(const QColor& stock) const {
    const auto& palette = stock.lightness() < 110 ? forgePalette : paperPalette;
    return QColor::fromRgba(palette[static_cast<std::size_t>(Token::iron)]);
}

QPen Theme::pen(Token token, double width) const {
    QPen pen(color(token), width);
    pen.setCosmetic(true);
    return pen;
}

QColor Theme::hue(const plan::Kind* kind) const { return color(tokenOf(kind)); }

QBrush Theme::pattern(const plan::Kind* kind) const {
    constexpr int side = 8;
    QImage tile(side, side, QImage::Format_ARGB32_Premultiplied);
    tile.fill(hue(kind));
    QPainter painter(&tile);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(hue(kind).lighter(150), 1.2));
    switch (kind ? kind->pattern : plan::Pattern::solid) {
    case plan::Pattern::solid: break;
    case plan::Pattern::dotted:
        painter.setBrush(hue(kind).lighter(160));
        painter.setPen(Qt::NoPen);
        painter.drawEllipse(QPointF(2, 2), 1, 1);
        painter.drawEllipse(QPointF(6, 6), 1, 1);
        break;
    case plan::Pattern::level:
        painter.drawLine(QPointF(0, 2.5), QPointF(side, 2.5));
        painter.drawLine(QPointF(0, 6.5), QPointF(side, 6.5));
        break;
    case plan::Pattern::screened:
        painter.drawEllipse(QPointF(2, 2), 1.2, 1.2);
        painter.drawEllipse(QPointF(6, 6), 0.6, 0.6);
        break;
    case plan::Pattern::dashed: painter.drawLine(QPointF(4, 1), QPointF(4, 6)); break;
    case plan::Pattern::ruled:
        for (const double x : {2.5, 6.5}) painter.drawLine(QPointF(x, 0), QPointF(x, side));
        break;
    case plan::Pattern::slanted:
        for (const double x : {-8.0, 0.0, 8.0}) painter.drawLine(QPointF(x, side), QPointF(x + side, 0));
        break;
    case plan::Pattern::chevron: painter.drawPolyline(QPolygonF{{0, 6}, {4, 2}, {8, 6}}); break;
    case plan::Pattern::peaks: painter.drawPolyline(QPolygonF{{0, 7}, {3, 7}, {6, 1}, {8, 1}}); break;
    case plan::Pattern::grid:
        painter.drawLine(QPointF(0, 4), QPointF(side, 4));
        painter.drawLine(QPointF(4, 0), QPointF(4, side));
        break;
    }
    return QBrush(tile);
}

void Theme::paintGlyph(QPainter& painter, Glyph glyph, const QRectF& where, const QColor& ink) const {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.translate(where.topLeft());
    painter.scale(where.width() / 20, where.height() / 20);
    painter.setPen(QPen(ink, 1.5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(pathFor(glyph));
    painter.restore();
}

QIcon Theme::icon(Glyph glyph) const {
    QIcon icon;
    for (const int scale : {1, 2}) {
        QPixmap pixmap(20 * scale, 20 * scale);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        paintGlyph(painter, glyph, QRectF(0, 0, 20 * scale, 20 * scale), color(Token::ink));
        painter.end();
        pixmap.setDevicePixelRatio(scale);
        icon.addPixmap(pixmap);
    }
    return icon;
}

QFont Theme::text(int pixels, bool bold) const {
    QFont font(words_);
    font.setPixelSize(pixels);
    font.setBold(bold);
    return font;
}

QFont Theme::code(int pixels) const {
    QFont font(mono_);
    font.setStyleName("Narrow Medium");
    font.setPixelSize(pixels);
    return font;
}

} // namespace ferro::app
