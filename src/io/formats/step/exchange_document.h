// The kernel's document of products, colours and layers, through which STEP files are read and written.
#pragma once

#include <Message.hxx>
#include <Message_PrinterOStream.hxx>
#include <TDocStd_Document.hxx>
#include <XCAFApp_Application.hxx>

namespace kervo::io {

inline Handle(TDocStd_Document) new_exchange_document() {
    // The exchange code chats on standard output, where scripts expect results.
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    Handle(TDocStd_Document) document;
    XCAFApp_Application::GetApplication()->NewDocument("BinXCAF", document);
    return document;
}

} // namespace kervo::io
