#include "io/formats/step/step.h"

#include "io/formats/step/exchange_document.h"

#include "base/text.h"
#include "geom/kernel/kernel_progress.h"
#include "geom/measure/measure.h"
#include "io/formats/step/part21_text.h"
#include "io/formats/told_stream.h"

#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_PrinterOStream.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Controller.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <StepBasic_DocumentFile.hxx>
#include <StepBasic_ExternalIdentificationAssignment.hxx>
#include <StepData_StepModel.hxx>
#include <StepShape_ShellBasedSurfaceModel.hxx>
#include <StepShape_SolidModel.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp_Explorer.hxx>
#include <TransferBRep.hxx>
#include <Transfer_TransientProcess.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_LayerTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <XSControl_TransferReader.hxx>
#include <XSControl_WorkSession.hxx>

#include <algorithm>
#include <map>
#include <set>

namespace kervo::io {

namespace {

std::string utf8_of(const TCollection_ExtendedString& text) {
    std::string utf8(static_cast<size_t>(text.LengthOfCString()), '\0');
    Standard_PCharacter target = utf8.data();
    text.ToUTF8CString(target);
    return utf8;
}

std::string name_of(const TDF_Label& label) {
    Handle(TDataStd_Name) name;
    if (!label.FindAttribute(TDataStd_Name::GetID(), name)) {
        return {};
    }
    return utf8_of(name->Get());
}

// Walks the product structure; names and colours of an instance win over those of what it is an instance of.
class StructureWalk {
public:
    explicit StructureWalk(const Handle(TDocStd_Document) & document)
        : shapes_(XCAFDoc_DocumentTool::ShapeTool(document->Main())),
          colors_(XCAFDoc_DocumentTool::ColorTool(document->Main())),
          layers_(XCAFDoc_DocumentTool::LayerTool(document->Main())) {}

    std::vector<NamedBody> bodies() {
        TDF_LabelSequence free;
        shapes_->GetFreeShapes(free);
        for (const TDF_Label& label : free) {
            walk(label, {});
        }
        return bodies_;
    }
    /// What else there is, for people.
    [[nodiscard]] std::vector<std::string> left_out() const {
        std::vector<std::string> all;
        const auto tell = [&](size_t count, const std::string& one, const std::string& many) {
            if (count > 0) {
                all.push_back(counted(count, one, many));
            }
        };
        tell(faces_, "colour of a face", "colours of faces");
        tell(curves_, "loose curve", "loose curves");
        return all;
    }

private:
    // Of a label or a shape.
    template <class Of> std::string color_of(const Of& of) const {
        Quantity_Color color;
        for (const XCAFDoc_ColorType type : {XCAFDoc_ColorSurf, XCAFDoc_ColorGen}) {
            if (colors_->GetColor(of, type, color)) {
                return hex(color);
            }
        }
        return {};
    }

    static std::string hex(const Quantity_Color& color) {
        return lower_case(Quantity_Color::ColorToHex(color).ToCString());
    }

    // Many call an instance after its product, with a number, or by a number alone; then the product's own name reads
    // better.
    static bool says_more(const std::string& occurrence, const std::string& product) {
        std::string rest = occurrence;
        for (const std::string& front : {product, std::string("NAUO"), std::string("=>")}) {
            if (!front.empty() && rest.starts_with(front)) {
                rest = rest.substr(front.size());
                break;
            }
        }
        return rest.find_first_not_of(" _-.:#()[]0123456789") != std::string::npos;
    }

    /// What comes down from outside to a label.
    struct Above {
        TopLoc_Location place;
        std::string name, color;
        model::Sorting sorting;
        bool within = false; ///< an assembly
    };

    void walk(const TDF_Label& label, Above above) {
        above.name = above.name.empty() ? name_of(label) : above.name;
        above.color = above.color.empty() ? color_of(label) : above.color;
        above.sorting.hidden = above.sorting.hidden || !colors_->IsVisible(label);
        above.sorting.layer = layer_of(label, above.sorting.layer);
        if (TDF_Label referred; XCAFDoc_ShapeTool::GetReferredShape(label, referred)) {
            const std::string product = name_of(referred);
            above.place = above.place * XCAFDoc_ShapeTool::GetLocation(label);
            above.name = product.empty() || says_more(above.name, product) ? above.name : product;
            walk(referred, above);
        } else if (XCAFDoc_ShapeTool::IsAssembly(label)) {
            if (above.within) { // the outermost is the file
                above.sorting.groups.push_back({++assemblies_, above.name});
            }
            above.within = true;
            above.name.clear();
            TDF_LabelSequence parts;
            XCAFDoc_ShapeTool::GetComponents(label, parts);
            for (const TDF_Label& part : parts) {
                walk(part, above);
            }
        } else {
            take(XCAFDoc_ShapeTool::GetShape(label), label, above);
        }
    }

    // The first one that a label or a shape lies on, or else `otherwise`.
    template <class Of> std::string layer_of(const Of& of, const std::string& otherwise) const {
        const Handle(TColStd_HSequenceOfExtendedString) names = layers_->GetLayers(of);
        return names.IsNull() || names->IsEmpty() ? otherwise : utf8_of(names->First());
    }

    void take(const TopoDS_Shape& shape, const TDF_Label& label, const Above& above) {
        const auto add = [&](const TopoDS_Shape& part, const std::string& behind) {
            NamedBody body{above.name + behind, above.color.empty() ? color_of(part) : above.color,
                           part.Moved(above.place)};
            body.sorting = above.sorting;
            body.sorting.layer = layer_of(part, above.sorting.layer);
            bodies_.push_back(std::move(body));
        };
        const auto solids = geom::solids_of(shape);
        size_t number = 0;
        for (const TopoDS_Shape& solid : solids) {
            add(solid, solids.size() > 1 ? " " + std::to_string(++number) : "");
        }
        std::vector<TopoDS_Shape> sheets;
        for (TopExp_Explorer it(shape, TopAbs_FACE, TopAbs_SOLID); it.More(); it.Next()) {
            sheets.push_back(it.Current());
        }
        if (!sheets.empty()) {
            add(solids.empty() ? shape : geom::gather(sheets), solids.empty() ? "" : " surfaces");
        }
        for (TopExp_Explorer it(shape, TopAbs_EDGE, TopAbs_FACE); it.More(); it.Next()) {
            ++curves_;
        }
        TDF_LabelSequence parts;
        XCAFDoc_ShapeTool::GetSubShapes(label, parts);
        for (const TDF_Label& part : parts) {
            Quantity_Color own;
            faces_ += XCAFDoc_ShapeTool::GetShape(part).ShapeType() == TopAbs_FACE &&
                              colors_->GetColor(part, XCAFDoc_ColorSurf, own)
                          ? 1
                          : 0;
        }
    }

    Handle(XCAFDoc_ShapeTool) shapes_;
    Handle(XCAFDoc_ColorTool) colors_;
    Handle(XCAFDoc_LayerTool) layers_;
    std::vector<NamedBody> bodies_;
    int assemblies_ = 0;            ///< within the outermost
    size_t curves_ = 0, faces_ = 0; ///< that cannot come along
};

// Files that a STEP file says it is one part of (ISO 10303-21, DOCUMENT_FILE and external identification of the
// schemas). Their names are taken out of it, so that nothing looks for them.
std::vector<std::string> take_other_files(const StepData_StepModel& model) {
    std::set<std::string> names;
    const Handle(TCollection_HAsciiString) nothing = new TCollection_HAsciiString("");
    const auto take = [&](const Handle(TCollection_HAsciiString) & name) {
        if (!name.IsNull() && !name->IsEmpty()) {
            names.insert(name->ToCString());
        }
    };
    for (int i = 1; i <= model.NbEntities(); ++i) {
        const Handle(Standard_Transient)& entity = model.Value(i);
        if (const auto document = Handle(StepBasic_DocumentFile)::DownCast(entity); !document.IsNull()) {
            take(document->Id());
            document->SetId(nothing);
        }
        if (const auto outside = Handle(StepBasic_ExternalIdentificationAssignment)::DownCast(entity);
            !outside.IsNull()) {
            take(outside->AssignedId());
            outside->SetAssignedId(nothing);
        }
    }
    return {names.begin(), names.end()};
}

// Bodies whose entities the kernel knows, and of which it made nothing.
size_t count_failed(const XSControl_Reader& reader, const StepData_StepModel& model) {
    const Handle(Transfer_TransientProcess) process = reader.WS()->TransferReader()->TransientProcess();
    size_t failed = 0;
    for (int i = 1; i <= model.NbEntities(); ++i) {
        const Handle(Standard_Transient)& entity = model.Value(i);
        if (entity->IsKind(STANDARD_TYPE(StepShape_SolidModel)) ||
            entity->IsKind(STANDARD_TYPE(StepShape_ShellBasedSurfaceModel))) {
            failed += TransferBRep::ShapeResult(process, entity).IsNull() ? 1 : 0;
        }
    }
    return failed;
}

// Kinds of shapes that the kernel's reader passes over.
std::vector<std::string> passed_over(const std::string& bytes) {
    static const std::map<std::string, std::pair<std::string, std::string>> kinds{
        {"TESSELLATED_SOLID", {"body of triangles", "bodies of triangles"}},
        {"TESSELLATED_SHELL", {"shell of triangles", "shells of triangles"}},
        {"TESSELLATED_WIRE", {"wire of short lines", "wires of short lines"}},
        {"POINT_CLOUD_DATASET", {"cloud of points", "clouds of points"}},
        {"ANNOTATION_OCCURRENCE", {"annotation", "annotations"}},
        {"TESSELLATED_ANNOTATION_OCCURRENCE", {"annotation", "annotations"}},
        {"DRAUGHTING_CALLOUT", {"callout", "callouts"}}};
    std::set<std::string> names;
    for (const auto& [name, words] : kinds) {
        names.insert(name);
    }
    std::vector<std::string> told;
    for (const auto& [name, count] : count_entities(bytes, names)) {
        const auto& [one, many] = kinds.at(name);
        told.push_back(counted(count, one, many));
    }
    return told;
}

Result<ReadBodies> read_step(const std::string& from, Progress& progress) {
    const std::string bytes = with_capital_exponents(from);
    STEPCAFControl_Reader reader;
    reader.SetNameMode(Standard_True);
    reader.SetColorMode(Standard_True);
    reader.SetLayerMode(Standard_True);
    ToldStream stream(bytes, progress);
    if (reader.ChangeReader().ReadStream("", stream) != IFSelect_RetDone) {
        return unreadable("it is not a STEP file, or it is cut off");
    }
    ReadBodies file;
    file.not_followed = take_other_files(*reader.ChangeReader().StepModel());
    Handle(TDocStd_Document) document = new_exchange_document();
    const Handle(geom::KernelProgress) told = new geom::KernelProgress(progress);
    if (reader.Transfer(document, told->Start())) {
        StructureWalk walk(document);
        file.bodies = walk.bodies();
        file.left_out = walk.left_out();
        const auto more = passed_over(bytes);
        file.left_out.insert(file.left_out.end(), more.begin(), more.end());
        if (const size_t failed = count_failed(reader.ChangeReader(), *reader.ChangeReader().StepModel()); failed > 0) {
            file.left_out.push_back(counted(failed, "body that could not be read", "bodies that could not be read"));
        }
    }
    if (file.bodies.empty()) {
        return unreadable(file.not_followed.empty()
                              ? "it holds no bodies"
                              : "it holds no bodies, and only refers to other files, which are not "
                                "read, such as \u201c" +
                                    file.not_followed.front() + "\u201d");
    }
    return file;
}

} // namespace

Format step_format() {
    Format format{"step", "STEP AP242", {".step", ".stp"}};
    format.says_author = true;
    format.read_bodies = read_step;
    format.write_bodies = write_step;
    return format;
}

} // namespace kervo::io
