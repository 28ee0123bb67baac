#pragma once

#include "app/shell/facts.h"

namespace ferro::app {

/// The band at the bottom: the job as a time line.
class TimeStrip : public QWidget {
    Q_OBJECT
public:
    explicit TimeStrip(QWidget* parent = nullptr);
    void setFacts(StripFacts facts);
    void setActivity(const QString& what, double fraction);
    [[nodiscard]] QRectF blockRect(std::size_t index) const;

Q_SIGNALS:
    void stepAsked(ferro::plan::StepId step);
    void playheadAsked(double seconds);
    void cancelAsked();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF bar() const;
    [[nodiscard]] double xOf(double seconds) const;
    [[nodiscard]] double secondsAt(double x) const;
    StripFacts facts_;
    QString activity_;
    double fraction_ = 0;
    QPushButton* cancel_;
};

} // namespace ferro::app
