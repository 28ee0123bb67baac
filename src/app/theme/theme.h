#pragma once

#include <QColor>
#include <QFont>
#include <QIcon>
#include <QObject>
#include <QPen>

#include "plan/kind.h"

namespace ferro::app {

/// The only names of colours in the program. Who paints asks for a token and repaints when the theme changes.
enum class Token {
    paper,
    card,
    bench,
    rule,
    ink,
    faded,
    iron,
    oxide,
    verdigris,
    ochre,
    noGo,
    onAccent,
    shade,
    outline,
    clear,
    drill,
    scribe,
    groove,
    bevel,
    skim,
    carve,
    hatch,
    tone,
    slit,
    count
};
enum class Scheme { paper, forge };

/// What a small line drawing shows.
enum class Glyph {
    select,
    points,
    draw,
    measure,
    tab,
    clamp,
    add,
    remove,
    up,
    down,
    fit,
    area,
    eraser,
    pick,
    play,
    pause,
    stop,
    home,
    jump,
    lock,
    eye,
    book,
    typed,
    reset,
    plane,
    drop,
    plan,
    round,
    stamp
};

class Theme : public QObject {
    Q_OBJECT
public:
    [[nodiscard]] Scheme scheme() const { return scheme_; }
    void setScheme(Scheme scheme);

    /// Puts the style sheet on. Called when the window stands: a widget that is built dressed is dressed anew each time
    /// it is put into another.
    void dress();

    [[nodiscard]] QColor color(Token token) const;
    /// Artwork lines that can be seen on stock of this colour, whatever the scheme.
    [[nodiscard]] QColor ironOn(const QColor& stock) const;
    [[nodiscard]] QPen pen(Token token, double width = 1) const;
    /// By its name; none: of a program from elsewhere, as an outline.
    [[nodiscard]] QColor hue(const plan::Kind* kind) const;
    /// Each kind of step has its own pattern, so that hue is never the only sign.
    [[nodiscard]] QBrush pattern(const plan::Kind* kind) const;
    [[nodiscard]] QIcon icon(Glyph glyph) const;
    void paintGlyph(QPainter& painter, Glyph glyph, const QRectF& where, const QColor& color) const;

    [[nodiscard]] QFont text(int pixels = 13, bool bold = false) const;
    [[nodiscard]] QFont caption() const { return text(11); }
    [[nodiscard]] QFont code(int pixels = 13) const;

    static constexpr int grid = 4; ///< px, all spacing is a multiple
    static constexpr int routeWidth = 212, sheetWidth = 312, stripHeight = 76, droHeight = 38, toolHeight = 46,
                         menuHeight = 28, ruler = 18;

Q_SIGNALS:
    void changed();

private:
    friend Theme& theme();
    Theme();
    void apply();
    Scheme scheme_ = Scheme::paper;
    bool dressed_ = false;
    QString words_ = "B612", mono_ = "League Mono";
};

[[nodiscard]] Theme& theme();

} // namespace ferro::app
