#pragma once

#include "app/shell/session.h"
#include "app/widgets/parts.h"
#include "app/widgets/quantity_field.h"

#ifndef Q_MOC_RUN // it does not read all of the standard library
#include "mend/reshape.h"
#endif

namespace ferro::app {

/// Other shapes of the chosen pieces: combined, offset, lines made wide, the space around.
class ShapeSection : public Section {
    Q_OBJECT
public:
    explicit ShapeSection(Session& session);
    void refresh();

Q_SIGNALS:
    void refused(const QString& why);

private:
    void combine(const QString& label, mend::Together how);
    QuantityField* field(const QString& label, const char* name, double value);
    Session& session_;
    Corner corner_ = Corner::round;
    QuantityField *offset_, *width_, *border_;
    WordChoice* corners_;
    std::vector<QPushButton*> onTwo_, onOne_;
};

/// Many at once: those like the chosen, inside them, on their layers, the others, and all up to a size.
class ChooseSection : public Section {
    Q_OBJECT
public:
    explicit ChooseSection(Session& session);
    void refresh();

private:
    Session& session_;
    QuantityField* size_;
    std::vector<QPushButton*> onSome_;
};

/// Edges into line, even spaces.
class ArrangeSection : public Section {
    Q_OBJECT
public:
    explicit ArrangeSection(Session& session);
    void refresh();

private:
    Session& session_;
    WordChoice* to_;
    int toStock_ = 0;
    std::vector<std::pair<QuantityField*, double Session::Hands::*>> hands_;
    std::vector<QPushButton*> onSome_;
};

} // namespace ferro::app
