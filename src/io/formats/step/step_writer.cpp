#include "io/formats/step/step.h"

#include "geom/kernel/private_copy.h"
#include "io/document/safe_file.h"
#include "io/formats/plain_file.h"
#include "io/formats/step/exchange_document.h"
#include "io/formats/step/part21_text.h"

#include <APIHeaderSection_MakeHeader.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <Interface_Static.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Controller.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <StepData_StepModel.hxx>
#include <TCollection_HAsciiString.hxx>
#include <TDataStd_Name.hxx>
#include <TopoDS.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_LayerTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>

#include <algorithm>
#include <map>
#include <optional>
#include <set>
#include <tuple>

namespace kervo::io {

namespace {

// Products and where they stand: groups are assemblies, bodies that share a shape are occurrences of one product.
class ProductTree {
public:
    ProductTree(const Handle(TDocStd_Document) & document, const ModelToWrite& model)
        : shapes_(XCAFDoc_DocumentTool::ShapeTool(document->Main())),
          colors_(XCAFDoc_DocumentTool::ColorTool(document->Main())),
          layers_(XCAFDoc_DocumentTool::LayerTool(document->Main())) {
        const NamedBody& first = model.bodies.front();
        if (model.bodies.size() == 1 && first.sorting.groups.empty() && first.shape.Location().IsIdentity()) {
            dress(product_of(first), first);
            return;
        }
        const TDF_Label whole = shapes_->NewShape();
        name(whole, model.title.empty() ? "Model" : model.title);
        groups_[{}] = whole;
        for (const NamedBody& body : model.bodies) {
            const TDF_Label product = product_of(body);
            const TDF_Label occurrence =
                shapes_->AddComponent(group(body.sorting.groups), product, body.shape.Location());
            dress(occurrence, body);
        }
        shapes_->UpdateAssemblies();
    }

private:
    // What an occurrence cannot have by itself: the colours of its faces, a layer, not to be seen.
    struct Key {
        const TopoDS_TShape* shape;
        TopAbs_Orientation orientation;
        std::string layer;
        bool hidden;
        std::vector<std::pair<const TopoDS_TShape*, std::string>> faces;
        friend bool operator<(const Key& a, const Key& b) {
            return std::tie(a.shape, a.orientation, a.layer, a.hidden, a.faces) <
                   std::tie(b.shape, b.orientation, b.layer, b.hidden, b.faces);
        }
    };

    TDF_Label product_of(const NamedBody& body) {
        Key key{body.shape.TShape().get(), body.shape.Orientation(), body.sorting.layer, body.sorting.hidden, {}};
        for (const auto& [face, color] : body.own_colors) {
            key.faces.emplace_back(face.TShape().get(), color);
        }
        TDF_Label& product = products_[key];
        if (product.IsNull()) {
            // Another product of the same shape gets one of its own: what is said of faces and solids in the file would
            // hold for both.
            std::optional<geom::PrivateCopy> copy;
            TopoDS_Shape shape = body.shape.Located({});
            if (!used_.insert(shape.TShape().get()).second) {
                copy.emplace(shape);
                shape = copy->shape();
            }
            product = shapes_->NewShape();
            shapes_->SetShape(product, shape);
            name(product, body.name);
            color(product, body.color);
            if (!body.sorting.layer.empty()) {
                layers_->SetLayer(product, text_of(body.sorting.layer));
            }
            if (body.sorting.hidden) {
                colors_->SetVisibility(product, Standard_False);
            }
            for (const auto& [face, own] : body.own_colors) {
                const TopoDS_Shape here = face.Moved(body.shape.Location().Inverted());
                color(shapes_->AddSubShape(product, copy ? copy->of(here) : here), own);
            }
        }
        return product;
    }

    void dress(const TDF_Label& label, const NamedBody& body) {
        name(label, body.name);
        color(label, body.color);
    }

    TDF_Label group(const std::vector<model::Sorting::Holder>& holders) {
        TDF_Label& label = groups_[holders];
        if (label.IsNull()) {
            const TDF_Label product = shapes_->NewShape();
            name(product, holders.back().name);
            const TDF_Label around = group({holders.begin(), holders.end() - 1});
            name(shapes_->AddComponent(around, product, TopLoc_Location()), holders.back().name);
            groups_[holders] = product;
            return product;
        }
        return label;
    }

    static TCollection_ExtendedString text_of(const std::string& text) { return {text.c_str(), Standard_True}; }
    static void name(const TDF_Label& label, const std::string& name) { TDataStd_Name::Set(label, text_of(name)); }
    void color(const TDF_Label& label, const std::string& hex) {
        Quantity_Color color;
        if (!hex.empty() && Quantity_Color::ColorFromHex(hex.c_str(), color)) {
            colors_->SetColor(label, color, XCAFDoc_ColorSurf);
        }
    }

    Handle(XCAFDoc_ShapeTool) shapes_;
    Handle(XCAFDoc_ColorTool) colors_;
    Handle(XCAFDoc_LayerTool) layers_;
    std::map<Key, TDF_Label> products_;
    std::set<const TopoDS_TShape*> used_;
    std::map<std::vector<model::Sorting::Holder>, TDF_Label> groups_;
};

Handle(TCollection_HAsciiString) plain(const std::string& text) {
    return new TCollection_HAsciiString(text.c_str());
}

void sign(const Handle(StepData_StepModel) & file, const ModelToWrite& model) {
    APIHeaderSection_MakeHeader header(file);
    header.SetName(plain(model.title));
    header.SetAuthorValue(1, plain(model.author));
    header.SetOrganizationValue(1, plain(""));
    header.SetOriginatingSystem(plain("Kervo " KERVO_VERSION));
    header.SetPreprocessorVersion(plain("Kervo " KERVO_VERSION));
    header.SetAuthorisation(plain(""));
    header.SetDescriptionValue(1, plain("Exact bodies, in mm"));
}

// Edges of planes, cylinders, cones, spheres and tori need no curves in the parameters of their faces: whoever reads
// the file finds them exactly, and the file is half as large.
bool needs_parameter_curves(const ModelToWrite& model) {
    return std::any_of(model.bodies.begin(), model.bodies.end(), [](const NamedBody& body) {
        const auto faces = geom::faces_of(body.shape);
        return std::any_of(faces.begin(), faces.end(), [](const TopoDS_Shape& face) {
            return BRepAdaptor_Surface(TopoDS::Face(face), Standard_False).GetType() > GeomAbs_Torus;
        });
    });
}

} // namespace

Written write_step(const ModelToWrite& model, const FormatAnswers& /*answers*/, const std::string& path) {
    STEPCAFControl_Controller::Init();
    const Handle(TDocStd_Document) document = new_exchange_document();
    const ProductTree tree(document, model);
    Interface_Static::SetCVal("write.step.schema", "AP242DIS");
    Interface_Static::SetCVal("write.step.unit", "MM");
    Interface_Static::SetIVal("write.surfacecurve.mode", needs_parameter_curves(model) ? 1 : 0);
    STEPCAFControl_Writer writer;
    writer.SetNameMode(Standard_True);
    writer.SetColorMode(Standard_True);
    writer.SetLayerMode(Standard_True);
    if (!writer.Transfer(document, STEPControl_AsIs)) {
        return false;
    }
    sign(writer.ChangeWriter().Model(), model);
    if (writer.Write(path.c_str()) != IFSelect_RetDone) {
        return false;
    }
    const auto bytes = read_whole(path);
    if (!bytes) {
        return false;
    }
    const bool ascii =
        std::all_of(bytes->begin(), bytes->end(), [](char c) { return static_cast<signed char>(c) >= 0; });
    return ascii || write_plain(path, as_part21(*bytes));
}

} // namespace kervo::io
