#pragma once

#include "base/quantity.h"

#include <QLabel>
#include <QLineEdit>
#include <QToolButton>
#include <QWidget>

namespace ferro::app {

/// Where a number came from; shown as a small mark beside it.
enum class Origin { none, book, proven, typed };

/// A number with its unit: takes arithmetic and suffixes, is scrubbed by dragging its label, says where it came from
/// and can go back to the book's value. Shows what it is told; `edited` comes only from a person.
class QuantityField : public QWidget {
    Q_OBJECT
public:
    QuantityField(const QString& label, Measure measure, QWidget* parent = nullptr);

    void setQuantity(double value);
    [[nodiscard]] double quantity() const { return value_; }
    void setLabel(const QString& label) { label_->setText(label); }
    [[nodiscard]] QString label() const { return label_->text(); }
    void setUnits(Units units);
    void setRange(double low, double high);
    /// `words`: more of where it is from, told by the mark.
    void setOrigin(Origin origin, const QString& words = {});
    void setHint(const QString& hint); ///< a caption below, "5 equal passes"
    [[nodiscard]] QLineEdit* edit() const { return edit_; }

Q_SIGNALS:
    void edited(double value);
    /// While the label is dragged; `gesture` is the same for one drag.
    void scrubbed(double value, quint64 gesture);
    void resetAsked();
    void refused(const QString& why);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void commit();
    void show_();
    QLabel *label_, *unit_, *hint_;
    QLineEdit* edit_;
    QToolButton* mark_;
    Measure measure_;
    Units units_ = Units::mm;
    double value_ = 0, low_ = -1e9, high_ = 1e9;
    double scrubFrom_ = 0;
    int scrubX_ = 0;
    bool scrubbing_ = false;
    quint64 gesture_ = 0;
};

/// A number no two gestures share.
[[nodiscard]] quint64 freshGesture();

} // namespace ferro::app
