#include "app/shell/text_dialog.h"

#include "app/bench/bench_painter.h"
#include "artwork/installed_faces.h"
#include "artwork/text.h"

#include <QAbstractItemView>
#include <QPainterPath>
#include <QStyledItemDelegate>

namespace ferro::app {

namespace {

/// A face's name with a few letters of it at the right, made when they are first seen: hundreds may be installed.
class FaceSample : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        QStyledItemDelegate::paint(painter, option, index);
        const auto face = index.data(Qt::UserRole).toString();
        if (face.isEmpty()) return; // a separator
        auto& path = samples_[face];
        if (!path) path = sampleOf(face);
        const QRectF room = QRectF(option.rect).adjusted(option.rect.width() - 76, 0, -8, 0);
        const QRectF own = path->boundingRect();
        if (own.isEmpty()) return;
        painter->save();
        painter->setClipRect(room);
        painter->setRenderHint(QPainter::Antialiasing);
        painter->translate(room.right() - std::min(own.width(), room.width()) - own.left(),
                           room.center().y() - own.center().y());
        const QColor ink =
            option.palette.color(option.state & QStyle::State_Selected ? QPalette::HighlightedText : QPalette::Text);
        // Single lines have no inside.
        if (face == QString::fromStdString(artwork::shippedFaces().back()))
            painter->strokePath(*path, QPen(ink, 1.2));
        else
            painter->fillPath(*path, ink);
        painter->restore();
    }

private:
    static QPainterPath sampleOf(const QString& face) {
        QPainterPath path;
        path.setFillRule(Qt::OddEvenFill);
        const auto letters = artwork::lettered({.text = "Agf 26", .face = face.toStdString(), .capHeight = 11});
        if (!letters) return path;
        for (const auto& piece : letters->pieces) {
            path.addPath(painterPathOf(piece.outline));
            for (const auto& opening : piece.openings) path.addPath(painterPathOf(opening));
        }
        path = QTransform::fromScale(1, -1).map(path); // y up
        return path;
    }
    mutable QHash<QString, std::optional<QPainterPath>> samples_;
};

} // namespace

TextDialog::TextDialog(const artwork::Lettering& lettering, Units units, const QStringList& layers,
                       std::optional<Path> line, QWidget* parent)
    : QDialog(parent), from_(lettering), line_(std::move(line)) {
    const bool isNew = !layers.isEmpty();
    setObjectName("textDialog");
    setWindowTitle(isNew ? tr("Letter a text") : tr("Change the text"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 16);
    column->setSpacing(10);
    words_ = new QPlainTextEdit(QString::fromStdString(lettering.text));
    words_->setObjectName("textWords");
    words_->setAccessibleName(tr("Words"));
    words_->setFixedHeight(72);
    words_->setTabChangesFocus(true);
    column->addWidget(words_);
    face_ = new QComboBox;
    face_->setObjectName("textFace");
    face_->setFixedWidth(240); // a family and its style
    face_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    face_->setMaxVisibleItems(18);
    face_->setItemDelegate(new FaceSample(face_));
    face_->view()->setMinimumWidth(340);
    for (const auto& face : artwork::shippedFaces())
        face_->addItem(QString::fromStdString(face), QString::fromStdString(face));
    addInstalledFaces();
    const auto now = QString::fromStdString(lettering.face);
    if (face_->findData(now) < 0) face_->addItem(QFileInfo(now).completeBaseName(), now);
    face_->setCurrentIndex(face_->findData(now));
    column->addLayout(row(tr("Face"), face_));
    layer_ = new QComboBox;
    layer_->setObjectName("textLayer");
    layer_->setEditable(true);
    layer_->setFixedWidth(240);
    layer_->addItems(layers);
    layer_->setCurrentIndex(0);
    auto* layerRow = new QWidget;
    layerRow->setLayout(row(tr("Layer"), layer_));
    layerRow->setVisible(isNew);
    column->addWidget(layerRow);
    const auto field = [&](const QString& label, const char* name, double value, double low, double high,
                           Measure measure = Measure::length) {
        auto* made = new QuantityField(label, measure);
        made->edit()->setObjectName(QLatin1String(name));
        made->setRange(low, high);
        made->setUnits(units);
        made->setQuantity(value);
        const auto take = [this, made](double v) {
            made->setQuantity(v);
            Q_EMIT changed();
        };
        connect(made, &QuantityField::edited, made, take);
        connect(made, &QuantityField::scrubbed, made, take);
        column->addWidget(made);
        return made;
    };
    height_ = field(tr("Capitals"), "textHeight", lettering.capHeight, 0.1, 5000);
    tracking_ = field(tr("More between letters"), "textTracking", lettering.tracking, -1000, 1000);
    spacing_ = field(tr("From line to line"), "textSpacing", lettering.lineSpacing * 100, 50, 1000, Measure::percent);
    spacing_->setHint(tr("of the capitals' height"));
    align_ = new WordChoice(tr("Lines"), {tr("left"), tr("centre"), tr("right")});
    align_->setChosen(static_cast<int>(lettering.align));
    connect(align_, &WordChoice::asked, this, &TextDialog::changed);
    column->addWidget(align_);
    along_ = new QCheckBox(from_.along && !line_ ? tr("Along its line") : tr("Along the chosen line"));
    along_->setObjectName("textAlong");
    along_->setChecked(from_.along.has_value());
    along_->setVisible(from_.along || line_);
    column->addWidget(along_);
    column->addWidget(captionLabel(tr("“single line” is for scribing. A text can be changed until it is ungrouped.")));
    connect(words_, &QPlainTextEdit::textChanged, this, &TextDialog::changed);
    connect(face_, &QComboBox::currentIndexChanged, this, &TextDialog::changed);
    connect(along_, &QCheckBox::toggled, this, &TextDialog::changed);
    connect(layer_, &QComboBox::currentTextChanged, this, &TextDialog::changed);
    addAnswers(this, column, isNew ? tr("Add the text") : tr("Change it"), "textTake", tr("Leave it"));
}

/// The faces of the machine: a job carries the outlines, so it need not have them elsewhere.
void TextDialog::addInstalledFaces() {
    const auto& faces = artwork::installedFaces();
    if (!faces.empty()) face_->insertSeparator(face_->count());
    for (const auto& face : faces) {
        const auto file = QString::fromStdString(face.file);
        face_->addItem(QString::fromStdString(face.families.front() + " " + face.style), file);
        face_->setItemData(face_->count() - 1, file, Qt::ToolTipRole);
    }
}

artwork::Lettering TextDialog::lettering() const {
    auto out = from_;
    out.text = words_->toPlainText().toStdString();
    out.face = face_->currentData().toString().toStdString();
    if (!along_->isChecked())
        out.along.reset();
    else if (line_)
        out.along = line_;
    out.capHeight = height_->quantity();
    out.tracking = tracking_->quantity();
    out.lineSpacing = spacing_->quantity() / 100;
    out.align = static_cast<artwork::Lettering::Align>(align_->chosen());
    return out;
}

QString TextDialog::layer() const {
    const QString name = layer_->currentText().trimmed();
    return name.isEmpty() ? QStringLiteral("text") : name;
}

} // namespace ferro::app
