#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QPlainTextEdit>

#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "artwork/artwork.h"
#endif

namespace ferro::app {

/// The words of a text, its face and size.
class TextDialog : public QDialog {
    Q_OBJECT
public:
    /// `line`: the chosen one, which the letters may stand on.
    TextDialog(const artwork::Lettering& lettering, Units units, bool isNew, std::optional<Path> line, QWidget* parent);
    [[nodiscard]] artwork::Lettering lettering() const;

private:
    void addInstalledFaces();
    artwork::Lettering from_;
    std::optional<Path> line_;
    QPlainTextEdit* words_;
    QComboBox* face_;
    QuantityField *height_, *tracking_;
    WordChoice* align_;
    QCheckBox* along_;
};

} // namespace ferro::app
