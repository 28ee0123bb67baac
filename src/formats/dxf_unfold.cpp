#include "formats/dxf_entities_internal.h"
#include "geometry/arc_fit.h"

namespace ferro::formats {

namespace {

using Drawn = DxfEntities::Drawn;
using Insert = DxfEntities::Insert;
using Label = DxfEntities::Label;

/// Where the entities of a block go.
struct Onto {
    Transform place;
    std::string layer; ///< of the insert, for what is on layer 0
    bool label = false;

    [[nodiscard]] std::string layerOf(const std::string& own) const { return label || own == "0" ? layer : own; }
};
/// Labels are beside the layer that they are on.
std::string labelsOf(const std::string& layer) { return layer + " text"; }

/// Where the most of it was drawn, if that is far from the drawing's own origin, as on maps and in large plans; to the
/// whole metre, so that what is drawn on a grid stays on it. Half of the digits of a number would go to the distance.
Vec2 originOf(const DxfEntities& from, double scale) {
    constexpr double far = 100'000, grid = 1000; // mm
    std::vector<double> x, y;
    for (const auto& entity : from.entities) {
        const Vec2 at = std::visit(
            [](const auto& e) -> Vec2 {
                if constexpr (requires { e.path; })
                    return e.path.start;
                else if constexpr (requires { e.paths; })
                    return e.paths.empty() ? Vec2{} : e.paths.front().start;
                else
                    return {e.place.tx, e.place.ty};
            },
            entity);
        if (!isFinite(at)) continue;
        x.push_back(at.x * scale), y.push_back(at.y * scale);
    }
    if (x.empty()) return {};
    const auto middle = [](std::vector<double>& v) {
        const auto half = v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2);
        std::nth_element(v.begin(), half, v.end());
        return *half;
    };
    const Vec2 at{middle(x), middle(y)};
    if (!(length(at) > far) || !(length(at) < 1e13)) return {};
    return {std::floor(at.x / grid) * grid, std::floor(at.y / grid) * grid};
}

class Unfolder {
public:
    Unfolder(const DxfEntities& from, double scale) : from_(from), scale_(Transform::scaled(scale, scale)) {
        out_.origin = originOf(from, scale);
        scale_ = Transform::moved(-out_.origin) * scale_;
    }

    Result<DxfUnfolded> run() {
        for (const auto& entity : from_.entities) {
            if (problem_) return *problem_;
            if (const auto* drawn = std::get_if<Drawn>(&entity)) {
                take(*drawn, scale_, drawn->layer);
                flush(drawn->kind);
            } else if (const auto* label = std::get_if<Label>(&entity)) {
                take(*label, scale_, labelsOf(label->layer));
                flush(label->kind);
            } else {
                const auto& insert = std::get<Insert>(entity);
                copies(insert, {scale_, "0"}, 0, [&] {
                    flush(insert.dimension ? "dimension" : insert.name.empty() ? insert.block : insert.name);
                });
            }
        }
        if (problem_) return *problem_;
        return std::move(out_);
    }

private:
    void flush(const std::string& name) {
        for (auto& [layer, pieces] : gathered_) out_.items.push_back({std::move(pieces), layer, name});
        gathered_.clear();
    }
    void take(const Label& label, const Transform& place, const std::string& layer) {
        ++out_.labels[layer][label.kind];
        for (const auto& path : label.paths) take(Drawn{path, layer, label.kind}, place, layer);
    }
    void take(const Drawn& drawn, const Transform& place, const std::string& layer) {
        if (++count_ > 2'000'000 || (segments_ += drawn.path.segments.size()) > 20'000'000) return tooMany({});
        Path path = withoutCubics(transformed(drawn.path, place), 0.005);
        const Box box = boundsOf(path);
        if (!(std::abs(box.low.x) < 1e7 && std::abs(box.low.y) < 1e7 && std::abs(box.high.x) < 1e7 &&
              std::abs(box.high.y) < 1e7))
            return void(++out_.absurd);
        if (path.closed) path = wound(std::move(path), true);
        auto at = std::find_if(gathered_.begin(), gathered_.end(), [&](const auto& g) { return g.first == layer; });
        if (at == gathered_.end()) at = gathered_.insert(gathered_.end(), {layer, {}});
        at->second.push_back({std::move(path), {}});
    }
    template<class Each> void copies(const Insert& insert, const Onto& outer, int depth, Each&& each) {
        const auto found = from_.blocks.find(insert.block);
        if (found == from_.blocks.end()) return void(++(insert.dimension ? out_.undrawn : out_.missing[insert.block]));
        if (depth > 32) {
            problem_ = Problem{.what = "The drawing's blocks hold each other.",
                               .where = fmt::format("block “{}”", insert.block),
                               .mend = "Save it with its blocks taken apart."};
            return;
        }
        Onto onto{{}, outer.layerOf(insert.layer), outer.label};
        if (insert.dimension && !onto.label) {
            onto.label = true;
            onto.layer = labelsOf(onto.layer);
            ++out_.labels[onto.layer]["dimension"];
        }
        const Transform own = insert.place * Transform::moved(-found->second.base);
        for (int row = 0; row < insert.rows && !problem_; ++row)
            for (int column = 0; column < insert.columns && !problem_; ++column) {
                if (++count_ > 2'000'000) return tooMany(fmt::format("block “{}”", insert.block));
                const Vec2 by = insert.column * column + insert.row * row;
                onto.place = outer.place * Transform::moved(by) * own;
                inside(found->second, onto, depth);
                each();
            }
    }
    void inside(const DxfEntities::Block& block, const Onto& onto, int depth) {
        for (const auto& entity : block.entities) {
            if (problem_) return;
            if (const auto* drawn = std::get_if<Drawn>(&entity)) {
                take(*drawn, onto.place, onto.layerOf(drawn->layer));
            } else if (const auto* label = std::get_if<Label>(&entity)) {
                if (onto.label) // its letters are part of the dimension
                    for (const auto& path : label->paths) take(Drawn{path, {}, label->kind}, onto.place, onto.layer);
                else
                    take(*label, onto.place, labelsOf(onto.layerOf(label->layer)));
            } else {
                copies(std::get<Insert>(entity), onto, depth + 1, [] {});
            }
        }
    }
    void tooMany(std::string where) {
        problem_ = Problem{.what = "The drawing unfolds into more than two million entities.",
                           .where = std::move(where),
                           .mend = "Save it with fewer copies of its blocks."};
    }

    const DxfEntities& from_;
    Transform scale_;
    DxfUnfolded out_;
    std::vector<std::pair<std::string, std::vector<Piece>>> gathered_; // of one entity, by layer
    std::optional<Problem> problem_;
    std::size_t count_ = 0, segments_ = 0;
};

} // namespace

Result<DxfUnfolded> unfolded(const DxfEntities& entities, double mmPerUnit) {
    return Unfolder(entities, mmPerUnit).run();
}

} // namespace ferro::formats
