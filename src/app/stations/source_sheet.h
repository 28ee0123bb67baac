#pragma once

#include "app/stations/clean_section.h"
#include "app/stations/station_sheet.h"

#include <QCheckBox>
#include <QRadioButton>

namespace ferro::app {

/// The grey values of the picture and the level between dark and light, to be dragged.
class LevelBar : public QWidget {
    Q_OBJECT
public:
    explicit LevelBar(QWidget* parent = nullptr);
    void setFacts(const std::array<std::size_t, 256>& histogram, int level, bool automatic);

Q_SIGNALS:
    /// `gesture`: the same while the bar is held.
    void levelAsked(int level, quint64 gesture);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    std::array<std::size_t, 256> histogram_{};
    int level_ = 128;
    quint64 gesture_ = 0;
    bool automatic_ = true;
};

/// The colours found, to be left out or taken in again by a click.
class SwatchRow : public QWidget {
    Q_OBJECT
public:
    explicit SwatchRow(QWidget* parent = nullptr);
    void setFacts(const std::vector<trace::Colour>& all, const std::vector<trace::Colour>& used);

Q_SIGNALS:
    void toggled(std::size_t index);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    std::vector<trace::Colour> all_, used_;
};

class SourceSheet : public StationSheet {
    Q_OBJECT
public:
    explicit SourceSheet(Session& session);
    void refresh() override;

private:
    void buildSections(); // when the first picture is there
    void ask(const std::function<void(trace::Settings&)>& change, quint64 gesture = 0);
    Section *picture_ = nullptr, *find_, *level_, *curve_, *result_;
    QLabel *size_, *quality_, *words_, *more_, *none_;
    QPushButton *even_, *keep_;
    QCheckBox* speckFound_;
    QuantityField *width_, *fade_, *speck_, *follow_, *corners_;
    std::array<QRadioButton*, trace::findWords.size()> ways_{};
    Section* colours_ = nullptr;
    CleanSection* clean_ = nullptr;
    AreaSection* parts_ = nullptr;
    QuantityField *above_, *line_, *step_;
    QuantityField* count_;
    QCheckBox *goUnder_, *paper_;
    SwatchRow* swatches_;
    std::vector<trace::Colour> offered_; // all that were found before any was left out
    LevelBar* bar_;
    QCheckBox *automatic_, *invert_;
};

} // namespace ferro::app
