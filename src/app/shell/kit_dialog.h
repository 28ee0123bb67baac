#pragma once

#include "app/background/background.h"
#include "app/widgets/parts.h"

#include <QDialog>
#include <QListWidget>
#include <QProgressBar>
#include <QTimer>

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "kit/kit.h"
#endif

namespace ferro::app {

/// A cut list to programs in one go: which list, where to; then what a person must look at, with the files it made.
class KitDialog : public QDialog {
    Q_OBJECT
public:
    /// `wish` without its list: the job whose machine, sheets and steps are used, and the book.
    KitDialog(kit::Wish wish, Background& background, QWidget* parent);
    ~KitDialog() override;

    void setList(const QString& file);
    void setFolder(const QString& folder);
    /// The job that was written and is to be opened; empty: none.
    [[nodiscard]] QString opened() const { return opened_; }

private:
    struct Answer {
        Result<kit::Made> made;
        Result<std::vector<std::filesystem::path>> files;
    };
    void start();
    void take(const Answer& answer);
    void look();
    void say(const QString& text, bool isProblem);
    [[nodiscard]] bool isBusy() const;

    kit::Wish wish_;
    Background& background_;
    QString list_, folder_, opened_;
    QStringList written_;
    QPushButton *listButton_, *folderButton_, *make_, *open_, *leave_;
    WordChoice *unit_, *effort_;
    QListWidget* found_;
    QLabel* words_;
    QProgressBar* bar_;
    QTimer tick_;
};

} // namespace ferro::app
