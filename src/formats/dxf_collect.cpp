#include "artwork/text.h"
#include "formats/dxf_curves_internal.h"
#include "formats/dxf_entities_internal.h"
#include "formats/dxf_text_internal.h"

#include <dl_creationadapter.h>
#include <dl_dxf.h>

#include <sstream>

namespace ferro::formats {

namespace {

/// The file's colour index as a colour: the nine named ones, then 24 hues in five shades, full and pale, then greys.
std::string colourOf(int index) {
    constexpr int named[] = {0x000000, 0xFF0000, 0xFFFF00, 0x00FF00, 0x00FFFF,
                             0x0000FF, 0xFF00FF, 0x000000, 0x808080, 0xC0C0C0};
    if (index < 1 || index > 255) return {};
    if (index < 10) return fmt::format("#{:06x}", named[index]);
    if (index >= 250) {
        const int grey = 51 + (index - 250) * 41;
        return fmt::format("#{0:02x}{0:02x}{0:02x}", std::min(grey, 255));
    }
    constexpr double shades[] = {1, 0.65, 0.5, 0.3, 0.15};
    const double hue = (index / 10 - 1) * 15.0, value = shades[index % 10 / 2], pale = index % 2 ? 0.5 : 0;
    const auto channel = [&](double offset) { // trapezoid over the circle of hues
        const double h = std::fmod(hue + offset, 360) / 60;
        const double full = std::clamp(std::abs(h - 3) - 1, 0.0, 1.0);
        return static_cast<int>(std::lround(255 * value * (pale + (1 - pale) * full)));
    };
    return fmt::format("#{:02x}{:02x}{:02x}", channel(0), channel(240), channel(120));
}

/// What the library reads, put down as blocks and entities.
class Collector : public DL_CreationAdapter {
public:
    DxfEntities found;

    void addLayer(const DL_LayerData& data) override {
        found.looks.push_back({textFromDxf(data.name), colourOf(std::abs(attributes.getColor())),
                               data.off || attributes.getColor() < 0 || (data.flags & 1) != 0, false});
    }
    void addBlock(const DL_BlockData& data) override {
        block_ = &found.blocks[textFromDxf(data.name)];
        *block_ = {{data.bpx, data.bpy}, {}};
    }
    void endBlock() override { block_ = nullptr; }

    void addPoint(const DL_PointData& d) override { put({{d.x, d.y}, {}, false}, "point"); }
    void addLine(const DL_LineData& d) override { put({{d.x1, d.y1}, {Segment::line({d.x2, d.y2})}, false}, "line"); }
    void addArc(const DL_ArcData& d) override {
        if (d.radius > 0) putLaid(arcOf({d.cx, d.cy}, d.radius, d.angle1 * pi / 180, d.angle2 * pi / 180), "arc");
    }
    void addCircle(const DL_CircleData& d) override {
        if (d.radius > 0) putLaid(circle({d.cx, d.cy}, d.radius), "circle");
    }
    void addEllipse(const DL_EllipseData& d) override {
        // Its middle and axis lie in the drawing itself; seen from below it turns the other way.
        const Vec2 major{d.mx, d.my};
        const double side = extrusion->getDirection()[2] < 0 ? -1 : 1;
        if (length(major) > 0 && d.ratio > 0)
            put(ellipseOf({d.cx, d.cy}, major, perpendicular(major) * (d.ratio * side), d.angle1, d.angle2), "ellipse");
    }
    void addSolid(const DL_SolidData& d) override { corners(d); }
    void addTrace(const DL_TraceData& d) override { corners(d); }
    void add3dFace(const DL_3dFaceData& d) override { corners(d, {0, 1, 2, 3}); }

    void addPolyline(const DL_PolylineData& d) override {
        vertices_.clear();
        isPolyline_ = true;
        closed_ = (d.flags & 1) != 0;
        laid_ = isLaid();
    }
    /// An arrow with a note at its end.
    void addLeader(const DL_LeaderData&) override {
        vertices_.clear();
        isLeader_ = true;
    }
    void addLeaderVertex(const DL_LeaderVertexData& d) override { vertices_.push_back({{d.x, d.y}, 0}); }
    void addVertex(const DL_VertexData& d) override { vertices_.push_back({{d.x, d.y}, d.bulge}); }

    void addSpline(const DL_SplineData& d) override {
        spline_ = Spline{static_cast<int>(d.degree), {}, {}, {}, {}, (d.flags & 1) != 0};
        isSpline_ = true;
    }
    void addControlPoint(const DL_ControlPointData& d) override {
        spline_.control.push_back({d.x, d.y});
        spline_.weights.push_back(d.w);
    }
    void addFitPoint(const DL_FitPointData& d) override { spline_.through.push_back({d.x, d.y}); }
    void addKnot(const DL_KnotData& d) override { spline_.knots.push_back(d.k); }

    void endEntity() override { finish(); }
    void endSequence() override { finish(); }

    void addInsert(const DL_InsertData& d) override {
        const std::size_t number = block_ ? 0 : inserts_++;
        if (!isLaid()) return void(++found.leftOut["standing in space"]);
        const Transform turn = mirror() * Transform::rotated(d.angle * pi / 180);
        const auto times = [](int n) { return std::clamp(n, 1, 100'000); };
        const auto name = textFromDxf(d.name);
        DxfEntities::Insert insert{name,
                                   layer(),
                                   mirror() * Transform::moved({d.ipx, d.ipy}) *
                                       Transform::rotated(d.angle * pi / 180) *
                                       Transform::scaled(d.sx == 0 ? 1 : d.sx, d.sy == 0 ? 1 : d.sy),
                                   times(d.cols),
                                   times(d.rows),
                                   turn.direction({d.colSp, 0}),
                                   turn.direction({0, d.rowSp}),
                                   isDimension(name),
                                   number};
        into().push_back(std::move(insert));
    }
    void addText(const DL_TextData& d) override {
        constexpr int between = 3, fitted = 5; // two points: as high as that comes to, or as high as it says
        Lie lie{{d.ipx, d.ipy}, d.angle, d.height, d.xScaleFactor > 0.05 ? d.xScaleFactor : 1};
        lie.mirror = Transform::scaled(d.textGenerationFlags & 2 ? -1 : 1, d.textGenerationFlags & 4 ? -1 : 1);
        if (d.hJustification == between || d.hJustification == fitted) {
            const Vec2 run = Vec2{d.apx, d.apy} - lie.at;
            lie.length = length(run);
            lie.keepsHeight = d.hJustification == fitted;
            if (lie.length > 0) lie.angle = std::atan2(run.y, run.x);
        } else if (d.hJustification != 0 || d.vJustification != 0) {
            lie.at = {d.apx, d.apy};
            lie.up = d.vJustification == 3 ? 1 : d.vJustification == 2 || d.hJustification == 4 ? 0.5 : 0;
            lie.align = d.hJustification == 1 || d.hJustification == 4 ? Align::centre
                        : d.hJustification == 2                        ? Align::right
                                                                       : Align::left;
        }
        text(plainTextFromDxf(d.text), lie);
    }
    void addMTextChunk(const std::string& part) override { pending_ += part; }
    void addMText(const DL_MTextData& d) override {
        const auto words = plainTextFromDxf(pending_ + d.text);
        pending_.clear();
        const int point = std::clamp(d.attachmentPoint, 1, 9);
        const auto lines = static_cast<double>(std::count(words.begin(), words.end(), '\n'));
        // From the top: the first line hangs below it; from the middle or the foot by the lines there are.
        const double whole = 1 + lines * lineSpacing, up = point <= 3 ? 1 : point <= 6 ? 1 - whole / 2 : 1 - whole;
        Lie lie{{d.ipx, d.ipy}, d.angle, d.height};
        // The library takes a direction for half a turn only; where there is none it says 1, 0.
        if (d.dirx < 0 || d.diry != 0) lie.angle = std::atan2(d.diry, d.dirx);
        lie.up = up;
        lie.align = point % 3 == 1 ? Align::left : point % 3 == 2 ? Align::centre : Align::right;
        text(words, lie);
    }

    void addHatch(const DL_HatchData&) override {}
    void addHatchEdge(const DL_HatchEdgeData& e) override {
        if (!e.vertices.empty()) {
            vertices_.clear();
            for (const auto& v : e.vertices)
                if (v.size() >= 2) vertices_.push_back({{v[0], v[1]}, v.size() > 2 ? v[2] : 0});
            polyline(true, "hatch boundary");
        } else if (e.type == 1) {
            edge({{e.x1, e.y1}, {Segment::line({e.x2, e.y2})}, false});
        } else if (e.type == 2 && e.radius > 0) {
            // Clockwise ones are told by their angles mirrored.
            const Path path = e.ccw ? arcOf({e.cx, e.cy}, e.radius, e.angle1, e.angle2)
                                    : reversed(arcOf({e.cx, e.cy}, e.radius, -e.angle2, -e.angle1));
            edge(path);
        } else if (e.type == 3) {
            const Vec2 major{e.mx, e.my};
            edge(ellipseOf({e.cx, e.cy}, major, perpendicular(major) * e.ratio, e.ccw ? e.angle1 : -e.angle2,
                           e.ccw ? e.angle2 : -e.angle1));
        } else if (e.type == 4) {
            Spline spline{static_cast<int>(e.degree), e.knots, e.weights, {}, {}, false};
            for (const auto& p : e.controlPoints)
                if (p.size() >= 2) spline.control.push_back({p[0], p[1]});
            if (auto path = pathOf(spline)) edge(*path);
        }
    }

private:
    using Align = artwork::Lettering::Align;
    static constexpr double lineSpacing = 1.66; // of the height, as the format has it

    /// The blocks that dimensions are drawn in have names of this kind.
    static bool isDimension(std::string_view block) {
        return block.size() > 2 && block[0] == '*' && (block[1] == 'D' || block[1] == 'd') &&
               std::all_of(block.begin() + 2, block.end(), [](unsigned char c) { return std::isdigit(c); });
    }
    /// How a text lies in the plane of its entity.
    struct Lie {
        Vec2 at;
        double angle = 0, height = 0; // radians, of its capitals
        double wide = 1;              // times as wide as the face has it
        double up = 0;                // of the height: where `at` is, from the baseline
        Align align = Align::left;
        double length = 0; // of the line that it fills, or 0
        bool keepsHeight = true;
        Transform mirror{};
    };
    void text(const std::string& words, Lie lie) {
        if (!isLaid()) return void(++found.leftOut["standing in space"]);
        artwork::Lettering l{words, "single line", 1, 0, lineSpacing, lie.align};
        auto letters = artwork::lettered(l);
        if (letters && lie.length > 0 && letters->advance > 0) {
            if (!lie.keepsHeight) lie.height = lie.length / (letters->advance * lie.wide);
            lie.wide = lie.length / (letters->advance * lie.height);
        }
        if (!letters || !(lie.height > 0)) return void(++found.leftOut["text"]);
        const Transform place = mirror() * Transform::moved(lie.at) * Transform::rotated(lie.angle) * lie.mirror *
                                Transform::scaled(lie.height * lie.wide, lie.height) * Transform::moved({0, -lie.up});
        DxfEntities::Label out{{}, layer(), "text"};
        for (const auto& piece : letters->pieces) out.paths.push_back(transformed(piece.outline, place));
        if (!out.paths.empty()) into().push_back(std::move(out));
    }
    [[nodiscard]] std::string layer() const {
        const auto name = attributes.getLayer();
        return name.empty() ? "0" : textFromDxf(name);
    }
    std::vector<DxfEntities::Entity>& into() { return block_ ? block_->entities : found.entities; }
    /// Drawn flat: seen from above or from below.
    [[nodiscard]] bool isLaid() const {
        const double* d = extrusion->getDirection();
        return std::abs(d[0]) < 1e-6 && std::abs(d[1]) < 1e-6 && d[2] != 0;
    }
    [[nodiscard]] Transform mirror() const {
        return extrusion->getDirection()[2] < 0 ? Transform::scaled(-1, 1) : Transform{};
    }
    void put(Path path, const char* kind) { into().push_back(DxfEntities::Drawn{std::move(path), layer(), kind}); }
    /// In the coordinates of its own plane.
    void putLaid(const Path& path, const char* kind) {
        if (isLaid())
            put(extrusion->getDirection()[2] < 0 ? transformed(path, mirror()) : path, kind);
        else
            ++found.leftOut["standing in space"];
    }
    void edge(const Path& path) { putLaid(path, "hatch boundary"); }
    /// The last two corners of a solid are told crosswise.
    void corners(const DL_TraceData& d, std::array<int, 4> order = {0, 1, 3, 2}) {
        Ring ring;
        for (const int i : order) {
            const Vec2 p{d.x[i], d.y[i]};
            if (ring.empty() || ring.back() != p) ring.push_back(p);
        }
        if (ring.size() > 2) putLaid(ferro::pathOf(ring, true), "solid");
    }
    void polyline(bool closed, const char* kind) {
        if (vertices_.empty()) return;
        // The tangent of a quarter of the arc's turn: above this an arc is a circle to all intents, of any size.
        constexpr double mostBulge = 1e4;
        const auto absurd = [&](const Vertex& v) { return !(std::abs(v.bulge) <= mostBulge); };
        if (std::any_of(vertices_.begin(), vertices_.end(), absurd)) {
            ++found.leftOut["bent beyond reason"];
            vertices_.clear();
            return;
        }
        Path path{vertices_.front().at, {}, closed};
        const std::size_t n = vertices_.size();
        for (std::size_t i = 0; i + (closed ? 0 : 1) < n; ++i) {
            const Vec2 from = vertices_[i].at, to = vertices_[(i + 1) % n].at;
            if (from != to) path.segments.push_back(bulged(from, to, vertices_[i].bulge));
        }
        // One that ends where it begins is closed, whatever it says.
        if (path.segments.size() > 1 && path.end() == path.start) path.closed = true;
        if (path.segments.empty()) path.closed = false;
        vertices_.clear();
        putLaid(path, kind);
    }
    void finish() {
        if (isPolyline_) {
            isPolyline_ = false;
            if (laid_)
                polyline(closed_, "polyline");
            else
                ++found.leftOut["standing in space"];
        }
        if (isLeader_) {
            isLeader_ = false;
            Ring ring;
            for (const auto& v : vertices_)
                if (ring.empty() || ring.back() != v.at) ring.push_back(v.at);
            if (ring.size() > 1) into().push_back(DxfEntities::Label{{ferro::pathOf(ring, false)}, layer(), "leader"});
        }
        if (isSpline_) {
            isSpline_ = false;
            if (auto path = pathOf(spline_))
                put(std::move(*path), "spline");
            else
                ++found.leftOut["spline whose knots and points do not fit together"];
        }
    }

    struct Vertex {
        Vec2 at;
        double bulge;
    };
    DxfEntities::Block* block_ = nullptr;
    std::size_t inserts_ = 0; // into the drawing itself
    std::vector<Vertex> vertices_;
    std::string pending_; // parts of a long text
    Spline spline_;
    bool closed_ = false, isPolyline_ = false, isSpline_ = false, isLeader_ = false, laid_ = true;
};

} // namespace

DxfEntities dxfEntitiesFrom(std::string text) {
    Collector collector;
    std::istringstream stream(std::move(text));
    DL_Dxf().in(stream, &collector);
    return std::move(collector.found);
}

} // namespace ferro::formats
