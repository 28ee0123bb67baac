#pragma once

#include "app/stations/piece_model.h"
#include "app/widgets/parts.h"

#include <QLineEdit>
#include <QTreeView>
#include <set>

namespace ferro::app {

/// The list of all pieces by layer and group: chosen here and on the bench alike; layers are made, named, coloured,
/// marked as notes and taken away, pieces dragged to another.
class PieceSection : public Section {
    Q_OBJECT
public:
    explicit PieceSection(Session& session);
    void refresh();

Q_SIGNALS:
    /// Of the chosen pieces, as on the bench.
    void menuAsked(QPoint at);

private:
    void standAgain();
    void chooseRows();
    void showChosen();
    void layerMenu(QPoint at, artwork::LayerId layer);
    void changeLayer(const QString& label, artwork::LayerId layer, const std::function<void(artwork::Layer&)>& change);
    [[nodiscard]] std::optional<artwork::LayerId> layerAtHand() const;

    Session& session_;
    PieceModel* model_;
    QTreeView* view_;
    QLineEdit* search_;
    QPushButton *colour_, *notes_, *drop_;
    std::set<std::pair<artwork::Listed::Kind, std::uint32_t>> folded_, known_; ///< rows, by kind and number
    std::optional<std::pair<artwork::Listed::Kind, std::uint32_t>> current_;   ///< while the list is made anew
    int scrolled_ = 0;
    bool showing_ = false; ///< rows are being chosen because the bench was
};

} // namespace ferro::app
