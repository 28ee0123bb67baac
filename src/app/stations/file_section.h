#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"

#include <QComboBox>
#include <QPlainTextEdit>

namespace ferro::app {

/// What becomes of the program as files: its dialect, what one file holds and is called, writing it, and its text.
class FileSection : public Section {
    Q_OBJECT
public:
    explicit FileSection(Session& session);
    void refresh();
    /// The programs of this sheet, or of all sheets on which something lies.
    void writeTo(const QString& folder, bool allSheets = false);

Q_SIGNALS:
    void told(const QString& text, bool isProblem);

private:
    void editDialect();
    void showOutput();
    void showProgram();
    Session& session_;
    QComboBox* dialect_;
    WordChoice* each_;
    QLineEdit* fileName_;
    QLabel* files_;
    QPushButton *write_, *writeAll_;
    QPlainTextEdit* text_;
    std::uint64_t programRevision_ = 0; ///< of the job whose program is shown
};

} // namespace ferro::app
