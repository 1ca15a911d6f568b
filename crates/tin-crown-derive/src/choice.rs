//! An enum as a word, or as a table with the one key that says which.

use proc_macro2::TokenStream;
use quote::quote;
use syn::spanned::Spanned;
use syn::{Data, DeriveInput, Error, Expr, Fields, Ident, LitStr, Result, Type};

use crate::doc::{kebab, sentence};

/// A variant, and how it is written.
struct Variant<'i> {
    ident: &'i Ident,
    name: String,
    about: String,
    value: Option<&'i Type>,
    /// Whether its name alone stands for the default of its value.
    word: bool,
    /// Whether its value stands without a key.
    plain: bool,
    text: Option<String>,
    range: Option<Expr>,
}

pub fn derive(input: &DeriveInput) -> Result<TokenStream> {
    let Data::Enum(data) = &input.data else {
        return Err(Error::new(input.span(), "a choice is an enum"));
    };
    let variants: Vec<Variant<'_>> = data
        .variants
        .iter()
        .map(|variant| {
            let value = match &variant.fields {
                Fields::Unit => None,
                Fields::Unnamed(fields) if fields.unnamed.len() == 1 => Some(&fields.unnamed[0].ty),
                _ => return Err(Error::new(variant.span(), "one value at the most")),
            };
            let mut found = Variant {
                ident: &variant.ident,
                name: kebab(&variant.ident.to_string()),
                about: sentence(&variant.attrs),
                value,
                word: value.is_none(),
                plain: false,
                text: None,
                range: None,
            };
            for attribute in &variant.attrs {
                if !attribute.path().is_ident("choice") {
                    continue;
                }
                attribute.parse_nested_meta(|meta| {
                    if meta.path.is_ident("word") {
                        found.word = true;
                    } else if meta.path.is_ident("plain") {
                        found.plain = true;
                    } else if meta.path.is_ident("name") {
                        found.name = meta.value()?.parse::<LitStr>()?.value();
                    } else if meta.path.is_ident("range") {
                        found.range = Some(meta.value()?.parse()?);
                    } else if meta.path.is_ident("text") {
                        found.text = Some(meta.value()?.parse::<LitStr>()?.value());
                    } else {
                        return Err(meta.error("no such word about a choice"));
                    }
                    Ok(())
                })?;
            }
            Ok(found)
        })
        .collect::<Result<_>>()?;
    Ok(generate(&input.ident, &sentence(&input.attrs), &variants))
}

fn generate(name: &Ident, about: &str, variants: &[Variant<'_>]) -> TokenStream {
    let title = name.to_string();
    let keyed: Vec<&Variant<'_>> = variants
        .iter()
        .filter(|variant| variant.value.is_some() && !variant.plain)
        .collect();
    let worded: Vec<&Variant<'_>> = variants.iter().filter(|variant| variant.word).collect();
    let plain: Vec<&Variant<'_>> = variants.iter().filter(|variant| variant.plain).collect();

    let key = keyed
        .iter()
        .map(|variant| &variant.name)
        .collect::<Vec<_>>();
    let ident = keyed.iter().map(|variant| variant.ident);
    let read_table = (!keyed.is_empty()).then(|| {
        quote! {
            if at.is_table() {
                return at.table(|fields| {
                    let found = [#(fields.get(#key).map(#name::#ident)),*];
                    fields.one_of(&[#(#key),*]);
                    found.into_iter().flatten().next()
                });
            }
        }
    });
    let words = worded.iter().map(
        |Variant {
             ident,
             name: word,
             value,
             ..
         }| match value {
            None => quote!((#word, #name::#ident)),
            Some(_) => quote!((#word, #name::#ident(Default::default()))),
        },
    );
    let words: Vec<_> = words.collect();
    let read_plain = plain.iter().map(|Variant { ident, value, .. }| {
        quote!(return <#value as crate::syntax::Syntax>::read(at).map(#name::#ident);)
    });
    let read_word = if worded.is_empty() {
        None
    } else if plain.is_empty() {
        Some(quote!(at.word(&[#(#words),*])))
    } else {
        Some(quote!(if at.text().is_some() { return at.word(&[#(#words),*]); }))
    };
    let tail = (worded.is_empty() && plain.is_empty()).then(|| quote!(at.wrong("a table")));

    let write = variants.iter().map(
        |Variant {
             ident,
             name: key,
             value,
             word,
             plain,
             ..
         }| {
            let text = quote!(crate::text::Value::Text(#key.to_owned()));
            match value {
                None => quote!(#name::#ident => #text),
                Some(_) if *plain => {
                    quote!(#name::#ident(value) => crate::syntax::Syntax::write(value))
                }
                Some(_) => {
                    let short =
                        word.then(|| quote!(if *value == Default::default() { return #text; }));
                    quote! {
                        #name::#ident(value) => {
                            #short
                            crate::text::Value::Table(vec![crate::text::Entry::new(
                                #key,
                                crate::syntax::Syntax::write(value),
                            )])
                        }
                    }
                }
            }
        },
    );
    let over = variants
        .iter()
        .filter(|variant| variant.value.is_some())
        .map(|Variant { ident, .. }| {
            quote! {
                (#name::#ident(own), #name::#ident(base)) => {
                    #name::#ident(crate::syntax::Syntax::over(own, base))
                }
            }
        });

    let arms = keyed.iter().map(
        |Variant {
             ident,
             name: key,
             value,
             ..
         }| {
            quote! {
                #key => {
                    let mut own = match self {
                        #name::#ident(own) => Some(own.clone()),
                        _ => None,
                    };
                    crate::syntax::set::part::<#value>(&mut own, rest, at)
                        .map_err(crate::syntax::set::Missed::further)?;
                    if let Some(own) = own {
                        *self = #name::#ident(own);
                    }
                    return Ok(());
                }
            }
        },
    );
    let within = plain.iter().map(|Variant { ident, value, .. }| {
        quote! {
            let mut own = match self {
                #name::#ident(own) => Some(own.clone()),
                _ => None,
            };
            match crate::syntax::set::part::<#value>(&mut own, steps, at) {
                Err(missed) if missed.depth == 0 => {}
                done => {
                    if let Some(own) = own {
                        *self = #name::#ident(own);
                    }
                    return done;
                }
            }
        }
    });
    // Whatever it begins as, the path then says which.
    let blank = variants.iter().find(|variant| variant.value.is_none());
    let blank = match blank {
        Some(Variant { ident, .. }) => quote!(Some(#name::#ident)),
        None => quote!(None),
    };
    let mut shapes = Vec::new();
    if !worded.is_empty() {
        let word = worded.iter().map(
            |Variant {
                 name: word, about, ..
             }| { quote!(crate::syntax::Word { word: #word, about: #about }) },
        );
        shapes.push(quote!(crate::syntax::Shape::Words(vec![#(#word),*])));
    }
    shapes.extend(plain.iter().map(|Variant { value, text, .. }| {
        let naming = text.iter();
        quote!(<#value as crate::syntax::Syntax>::shape()#(.naming(#naming))*)
    }));
    if !keyed.is_empty() {
        let keys = keyed.iter().map(
            |Variant {
                 name: key,
                 about,
                 value,
                 text,
                 range,
                 ..
             }| {
                let naming = text.iter();
                let range = range.iter();
                quote! {
                    crate::syntax::Key {
                        name: #key,
                        about: #about,
                        required: false,
                        due: false,
                        default: None,
                        absent: None,
                        shape: <#value as crate::syntax::Syntax>::shape()
                            #(.naming(#naming))*
                            #(.within(&#range))*,
                    }
                }
            },
        );
        shapes.push(quote! {
            crate::syntax::Shape::Table(crate::syntax::TableShape {
                name: #title,
                about: #about,
                keys: vec![#(#keys),*],
                together: vec![crate::syntax::Together::OneOf(&[#(#key),*])],
            })
        });
    }

    quote! {
        #[automatically_derived]
        impl crate::syntax::Syntax for #name {
            fn read(at: crate::syntax::At<'_>) -> Option<Self> {
                #read_table
                #read_word
                #(#read_plain)*
                #tail
            }

            fn write(&self) -> crate::text::Value {
                match self { #(#write),* }
            }

            fn shape() -> crate::syntax::Shape {
                crate::syntax::Shape::Any(vec![#(#shapes),*])
            }

            fn over(&self, base: &Self) -> Self {
                match (self, base) {
                    #(#over)*
                    _ => self.clone(),
                }
            }

            fn set(
                &mut self,
                steps: &[crate::finding::Step],
                at: crate::syntax::At<'_>,
            ) -> Result<(), crate::syntax::set::Missed> {
                let Some((first, rest)) = steps.split_first() else {
                    return crate::syntax::set::whole(self, steps, at);
                };
                if let crate::finding::Step::Key(key) = first {
                    match key.as_str() {
                        #(#arms)*
                        _ => {}
                    }
                }
                let _ = rest;
                #(#within)*
                let known: &[&str] = &[#(#key),*];
                Err(crate::syntax::set::Missed::here(known.iter().copied()))
            }

            fn blank() -> Option<Self> {
                #blank
            }
        }
    }
}
