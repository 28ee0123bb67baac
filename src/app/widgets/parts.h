#pragma once

#include <QAbstractButton>
#include <QButtonGroup>
#include <QDialog>
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace ferro::app {

/// The state of a station, a step or a check, as a shape and a word: hue is never the only sign.
enum class State { empty, underWay, ready, look, noGo };
[[nodiscard]] QString wordOf(State state);
void paintState(QPainter& painter, State state, const QRectF& where);

/// A titled part of a side sheet that folds.
class Section : public QFrame {
    Q_OBJECT
public:
    explicit Section(const QString& title, QWidget* parent = nullptr);
    void add(QWidget* widget) { body_->addWidget(widget); }
    void add(QLayout* layout) { body_->addLayout(layout); }
    void setFolded(bool folded);
    [[nodiscard]] bool isFolded() const;
    void setTitle(const QString& title);
    [[nodiscard]] QString title() const { return head_->text(); }
    /// Whether a widget in it would be seen if the section were not folded.
    [[nodiscard]] bool shows(const QWidget* widget) const { return widget->isVisibleTo(content_); }
    [[nodiscard]] QVBoxLayout* body() const { return body_; }

Q_SIGNALS:
    void opened();

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QPushButton* head_;
    QWidget* content_;
    QVBoxLayout* body_;
};

/// A row of a few words of which one holds.
class WordChoice : public QWidget {
    Q_OBJECT
public:
    WordChoice(const QString& label, const QStringList& words, QWidget* parent = nullptr);
    void setChosen(int index);
    [[nodiscard]] int chosen() const { return group_->checkedId(); }

Q_SIGNALS:
    void asked(int index);

private:
    QButtonGroup* group_;
};

[[nodiscard]] QLabel* captionLabel(const QString& text = {});
[[nodiscard]] QLabel* wrappedLabel(const QString& text = {});
[[nodiscard]] QPushButton* primaryButton(const QString& text, const char* name);
[[nodiscard]] QPushButton* plainButton(const QString& text, const char* name);
/// Buttons side by side, equally wide.
[[nodiscard]] QLayout* buttonRow(const std::vector<QPushButton*>& buttons);
/// The two answers at the foot of a dialog, the first of them the one that Return gives; answers that button.
QPushButton* addAnswers(QDialog* dialog, QVBoxLayout* column, const QString& take, const char* name,
                        const QString& leave);
/// Whether something was typed into it that was not taken yet; it is now.
[[nodiscard]] bool takesTyped(QLineEdit* line);
/// Shows what is so, but not over what is being typed.
void showUnlessTyped(QLineEdit* line, const QString& text);
/// A label at the left and a widget at the right.
[[nodiscard]] QLayout* row(const QString& label, QWidget* widget);

} // namespace ferro::app
