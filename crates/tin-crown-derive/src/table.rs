//! A struct as a table.

use proc_macro2::TokenStream;
use quote::quote;
use syn::punctuated::Punctuated;
use syn::spanned::Spanned;
use syn::{Data, DeriveInput, Error, Expr, Fields, Ident, LitStr, Result, Token, Type};

use crate::builder;
use crate::doc::sentence;
use crate::key::Key;

/// What `#[table(…)]` says.
#[derive(Default)]
struct Attributes {
    most: Option<Expr>,
    short: Option<Type>,
    parts: bool,
    beneath: Option<Expr>,
    all: bool,
    label: Option<Expr>,
    misplaced: Option<Expr>,
    no_builder: bool,
    together: Vec<(Ident, Vec<String>)>,
}

impl Attributes {
    fn parse(input: &DeriveInput) -> Result<Attributes> {
        let mut found = Attributes::default();
        for attribute in &input.attrs {
            if !attribute.path().is_ident("table") {
                continue;
            }
            attribute.parse_nested_meta(|meta| {
                let Some(name) = meta.path.get_ident() else {
                    return Err(meta.error("no such word about a table"));
                };
                match name.to_string().as_str() {
                    "most" => found.most = Some(meta.value()?.parse()?),
                    "short" => found.short = Some(meta.value()?.parse()?),
                    "parts" => {
                        found.parts = true;
                        if meta.input.peek(Token![=]) {
                            found.beneath = Some(meta.value()?.parse()?);
                        }
                    }
                    "all" => found.all = true,
                    "label" => found.label = Some(meta.value()?.parse()?),
                    "misplaced" => found.misplaced = Some(meta.value()?.parse()?),
                    "no_builder" => found.no_builder = true,
                    "one_of" | "some_of" | "at_most_one" => {
                        let content;
                        syn::parenthesized!(content in meta.input);
                        let keys = Punctuated::<LitStr, Token![,]>::parse_terminated(&content)?;
                        let keys = keys.iter().map(LitStr::value).collect();
                        found.together.push((name.clone(), keys));
                    }
                    _ => return Err(meta.error("no such word about a table")),
                }
                Ok(())
            })?;
        }
        Ok(found)
    }
}

pub fn derive(input: &DeriveInput) -> Result<TokenStream> {
    let Data::Struct(data) = &input.data else {
        return Err(Error::new(input.span(), "a table is a struct"));
    };
    let Fields::Named(fields) = &data.fields else {
        return Err(Error::new(input.span(), "a table has named fields"));
    };
    let table = Table {
        name: &input.ident,
        about: sentence(&input.attrs),
        attributes: Attributes::parse(input)?,
        keys: fields.named.iter().map(Key::parse).collect::<Result<_>>()?,
    };
    let (keys, syntax) = (table.keys(), table.syntax());
    let builder = (!table.attributes.no_builder).then(|| builder::setters(table.name, &table.keys));
    Ok(quote!(#keys #syntax #builder))
}

/// A struct, and what is declared of it.
struct Table<'i> {
    name: &'i Ident,
    about: String,
    attributes: Attributes,
    keys: Vec<Key>,
}

impl Table<'_> {
    /// Its keys, which may stand among those of another.
    fn keys(&self) -> TokenStream {
        let Table {
            name, about, keys, ..
        } = self;
        let title = name.to_string();
        let field = keys.iter().map(|key| &key.field);
        let read = keys.iter().map(Key::read);
        let write = keys.iter().map(Key::write);
        let describe = keys.iter().map(Key::describe);
        let all = self.attributes.all;
        let required = keys.iter().filter(|key| key.required && all);
        let required = required.map(|key| &key.name);
        let checks = self
            .attributes
            .together
            .iter()
            .map(|(rule, keys)| quote!(fields.#rule(&[#(#keys),*]);));
        let misplaced = self.attributes.misplaced.iter();
        let together = self.attributes.together.iter().map(|(rule, keys)| {
            let variant = match rule.to_string().as_str() {
                "one_of" => quote!(OneOf),
                "some_of" => quote!(SomeOf),
                _ => quote!(AtMostOne),
            };
            quote!(crate::syntax::Together::#variant(&[#(#keys),*]))
        });
        quote! {
            #[automatically_derived]
            impl crate::syntax::Table for #name {
                fn read_keys(fields: &mut crate::syntax::Fields<'_>) -> Option<Self> {
                    #[allow(unused_variables)]
                    let plain = Self::default();
                    #(fields.misplaced(#misplaced);)*
                    let read = Self { #(#field: #read),* };
                    #(#checks)*
                    fields.has_all(&[#(#required),*]).then_some(read)
                }

                fn write_keys(&self, entries: &mut Vec<crate::text::Entry>) {
                    #[allow(unused_variables)]
                    let plain = Self::default();
                    #(#write)*
                }

                fn keys() -> Vec<crate::syntax::Key> {
                    let mut keys = Vec::new();
                    #(#describe)*
                    keys
                }

                fn table() -> crate::syntax::TableShape {
                    crate::syntax::TableShape {
                        name: #title,
                        about: #about,
                        keys: <Self as crate::syntax::Table>::keys(),
                        together: vec![#(#together),*],
                    }
                }
            }
        }
    }

    /// How it stands in a file as a value.
    fn syntax(&self) -> TokenStream {
        let name = self.name;
        let most = self.attributes.most.iter();
        let (short_read, short_write, shape) = self.short();
        let (over, set) = (self.over(), self.set());
        let label = self.attributes.label.iter();
        quote! {
            #[automatically_derived]
            impl crate::syntax::Syntax for #name {
                #(const MOST: usize = #most;)*

                fn read(at: crate::syntax::At<'_>) -> Option<Self> {
                    #short_read
                    at.table(<Self as crate::syntax::Table>::read_keys)
                }

                fn write(&self) -> crate::text::Value {
                    #short_write
                    let mut entries = Vec::new();
                    crate::syntax::Table::write_keys(self, &mut entries);
                    crate::text::Value::Table(entries)
                }

                fn shape() -> crate::syntax::Shape {
                    #shape
                }

                #over

                #set

                fn blank() -> Option<Self> {
                    Some(Self::default())
                }

                #(fn label(&self) -> Option<&str> {
                    #label(self)
                })*
            }
        }
    }

    /// How it is read and written as a single value, where it may be, and its shape.
    fn short(&self) -> (Option<TokenStream>, Option<TokenStream>, TokenStream) {
        let table = quote!(crate::syntax::Shape::Table(
            <Self as crate::syntax::Table>::table()
        ));
        let Some(short) = &self.attributes.short else {
            return (None, None, table);
        };
        let read = quote! {
            if !at.is_table() {
                let short = <#short as crate::syntax::Syntax>::read(at)?;
                return Some(<Self as crate::syntax::Short<#short>>::from_short(short));
            }
        };
        let write = quote! {
            if let Some(short) = <Self as crate::syntax::Short<#short>>::to_short(self) {
                return crate::syntax::Syntax::write(&short);
            }
        };
        let shape = quote! {
            crate::syntax::Shape::Any(vec![
                <Self as crate::syntax::Short<#short>>::short_shape(),
                #table,
            ])
        };
        (Some(read), Some(write), shape)
    }

    /// How it is laid over another, if not as a whole.
    fn over(&self) -> Option<TokenStream> {
        if !self.attributes.parts {
            return None;
        }
        let field = self.keys.iter().map(|key| &key.field);
        let parts = self.keys.iter().map(Key::over);
        let beneath = self.attributes.beneath.iter();
        Some(quote! {
            fn over(&self, base: &Self) -> Self {
                #(let base = &#beneath(self, base);)*
                Self { #(#field: #parts),* }
            }
        })
    }

    fn set(&self) -> TokenStream {
        let arms = self.keys.iter().filter_map(Key::set);
        let within = self.keys.iter().filter_map(Key::set_within);
        quote! {
            fn set(
                &mut self,
                steps: &[crate::finding::Step],
                at: crate::syntax::At<'_>,
            ) -> Result<(), crate::syntax::set::Missed> {
                let Some((first, rest)) = steps.split_first() else {
                    return crate::syntax::set::whole(self, steps, at);
                };
                if let crate::finding::Step::Key(key) = first {
                    match &**key {
                        #(#arms)*
                        _ => {}
                    }
                    #(#within)*
                }
                let known = <Self as crate::syntax::Table>::keys();
                Err(crate::syntax::set::Missed::here(known.iter().map(|key| key.name)))
            }
        }
    }
}
