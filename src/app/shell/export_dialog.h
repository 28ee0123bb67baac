#pragma once

#include <QCheckBox>
#include <QDialog>
#include <QLineEdit>

#ifndef Q_MOC_RUN // it reads no concepts
#include "app/widgets/parts.h"
#include "formats/hairlines.h"
#endif

namespace ferro::app {

/// Asks which layers leave for another program, in which colours, and how curves are written.
class ExportDialog : public QDialog {
    Q_OBJECT
public:
    ExportDialog(const artwork::Artwork& artwork, QWidget* parent);
    [[nodiscard]] bool isEmpty() const { return rows_.empty(); }
    [[nodiscard]] bool asDxf() const { return kind_->chosen() == 1; }
    /// What is to be written; a problem where a colour is none.
    [[nodiscard]] Result<std::vector<formats::Hairlines>> hairlines() const;

private:
    struct Row {
        std::string layer;
        QCheckBox* taken;
        QLineEdit* colour;
        QLabel* shown;
    };
    void refresh();
    const artwork::Artwork& artwork_;
    std::vector<Row> rows_;
    WordChoice* kind_;
    WordChoice* curves_;
    QLabel* words_;
    QPushButton* take_;
};

} // namespace ferro::app
