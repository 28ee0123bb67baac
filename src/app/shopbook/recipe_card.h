#pragma once

#include "app/shopbook/card.h"

#include <map>

namespace ferro::app {

/// A recipe: the step as this shop does it; what was typed, and what the book says for each tool and material.
class RecipeCard final : public BookCard {
    Q_OBJECT
public:
    using BookCard::BookCard;
    bool show(const QString& key, Units units) override;

private:
    void build(const plan::Recipe& recipe);
    void set(std::string_view name, const QString& label, const std::string& value, quint64 gesture = 0);
    void free(std::string_view name, const QString& label); ///< the book says it again
    QLineEdit *name_ = nullptr, *note_ = nullptr;
    QComboBox* tool_ = nullptr;
    std::map<const plan::Field*, QuantityField*> fields_;
    std::map<const plan::Choice*, QComboBox*> choices_;
    std::vector<std::string_view> meant_; ///< fields that it has, with its choices as they are
};

} // namespace ferro::app
