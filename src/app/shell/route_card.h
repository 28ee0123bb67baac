#pragma once

#include "app/shell/facts.h"

#include <QAbstractButton>

namespace ferro::app {

/// One station's card: number, name, two lines of facts, state as shape and word; the open one holds its main actions.
class StationCard : public QAbstractButton {
    Q_OBJECT
public:
    StationCard(int number, QWidget* parent);
    void setFacts(const CardFacts& facts, bool open);
    void addAction(QPushButton* button);
    [[nodiscard]] const CardFacts& facts() const { return facts_; }

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    int number_;
    CardFacts facts_;
    bool open_ = false;
    QWidget* actions_;
    QVBoxLayout* stack_;
};

/// The column at the left.
class RouteCard : public QWidget {
    Q_OBJECT
public:
    explicit RouteCard(QWidget* parent = nullptr);
    void setFacts(const std::array<CardFacts, 6>& cards, StationId open);
    [[nodiscard]] StationCard* card(StationId station) const { return cards_[static_cast<std::size_t>(station)]; }

Q_SIGNALS:
    void asked(ferro::app::StationId station);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::array<StationCard*, 6> cards_{};
};

} // namespace ferro::app
