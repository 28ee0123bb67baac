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
    /// `layers`: those a new text may lie on; none for one that is changed, which stays where it is.
    TextDialog(const artwork::Lettering& lettering, Units units, const QStringList& layers, std::optional<Path> line,
               QWidget* parent);
    [[nodiscard]] artwork::Lettering lettering() const;
    [[nodiscard]] QString layer() const;

Q_SIGNALS:
    void changed(); ///< anything of it: what it would be may be shown

private:
    void addInstalledFaces();
    artwork::Lettering from_;
    std::optional<Path> line_;
    QPlainTextEdit* words_;
    QComboBox* face_;
    QComboBox* layer_;
    QuantityField *height_, *tracking_, *spacing_;
    WordChoice* align_;
    QCheckBox* along_;
};

} // namespace ferro::app
